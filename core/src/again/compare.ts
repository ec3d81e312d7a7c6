import { align, type WordAt } from './align.ts';
import type { PageOf } from './carry.ts';

/** One change of wording between two hand-ins. */
export interface WordingChange {
  /** Words that went, with the place they stood at; empty: only words came. */
  readonly went: string;
  readonly came: string;
  readonly wentAt: readonly WordAt[];
  readonly cameAt: readonly WordAt[];
  /** The word of the later one that stands before it; null: it is the first. */
  readonly behind: WordAt | null;
}

export interface Comparison {
  /** In the order of reading. */
  readonly changes: readonly WordingChange[];
  /** How many words came, and how many went. */
  readonly came: number;
  readonly went: number;
  /** Pages of the later one that have none to compare with, by their place. */
  readonly newPages: readonly number[];
  /** Pages of the earlier one that are not there any more. */
  readonly lostPages: readonly number[];
}

/** What changed between two hand-ins, word by word. */
export function compareHandIns(before: readonly PageOf[], after: readonly PageOf[]): Comparison {
  const { pages, edits } = align(
    before.map((p) => p.text),
    after.map((p) => p.text),
  );
  const say = (of: readonly PageOf[], words: readonly WordAt[]) =>
    words.map((w) => of[w.page]!.text.words[w.word]!.text).join(' ');
  const changes = edits.map(({ went, came, behind }) => ({
    went: say(before, went),
    came: say(after, came),
    wentAt: went,
    cameAt: came,
    behind,
  }));
  const matched = new Set(pages);
  return {
    changes,
    came: changes.reduce((n, c) => n + c.cameAt.length, 0),
    went: changes.reduce((n, c) => n + c.wentAt.length, 0),
    newPages: after.flatMap((_, i) => (matched.has(i) ? [] : [i])),
    lostPages: pages.flatMap((to, i) => (to === null ? [i] : [])),
  };
}
