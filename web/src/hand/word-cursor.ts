import { lineOfWord, type PageText, type WordRange } from '@jotmark/core';

/** The words picked with the keyboard: the word the cursor is on, and the one where it was set down. */
export interface WordCursor {
  readonly at: number;
  readonly from: number;
}

export function rangeOf(cursor: WordCursor): WordRange {
  return { from: Math.min(cursor.at, cursor.from), to: Math.max(cursor.at, cursor.from) };
}

/** Moves over the words in reading order, up and down to the word above or below. Stays put at the ends; null on a page without words. */
export function moveCursor(
  text: PageText,
  cursor: WordCursor | null,
  key: string,
  extend: boolean,
): WordCursor | null {
  if (text.words.length === 0) return null;
  if (!cursor) return { at: 0, from: 0 };
  const at = Math.min(text.words.length - 1, Math.max(0, step(text, cursor.at, key)));
  return { at, from: extend ? cursor.from : at };
}

function step(text: PageText, at: number, key: string): number {
  if (key === 'ArrowRight') return at + 1;
  if (key === 'ArrowLeft') return at - 1;
  const line = lineOfWord(text, at);
  const target = text.lines[text.lines.indexOf(line!) + (key === 'ArrowDown' ? 1 : -1)];
  if (!target) return at;
  const middle = (i: number) => (text.words[i]!.box[0] + text.words[i]!.box[2]) / 2;
  let best = target.from;
  for (let i = target.from; i < target.to; i++)
    if (Math.abs(middle(i) - middle(at)) < Math.abs(middle(best) - middle(at))) best = i;
  return best;
}
