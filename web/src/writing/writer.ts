import type { QuestionId } from '@jotmark/core';

/** What else there is to do with a text that grows while it is open; its editor does it. */
export interface Writer {
  /** What was typed becomes a change now. */
  flush(): void;
  plain(): string;
  /** Makes its words read so, with the smallest change. */
  rewrite(words: string): void;
  undo(): void;
  redo(): void;
  focused(): boolean;
}

/** The texts that are open in this tab, by their questions. */
export type Writers = Map<QuestionId, Writer>;

/** Whose turn an undo is: the text one is in, or the only one there is to write in. */
export const writerAt = (writers: Writers, alone: boolean): Writer | null =>
  [...writers.values()].find((w) => w.focused()) ?? (alone ? ([...writers.values()][0] ?? null) : null);
