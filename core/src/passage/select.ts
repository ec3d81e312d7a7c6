import { contains, distanceToBox, type Point } from '../geometry/box.ts';
import type { Caret } from '../marks/mark.ts';
import { quoteOf } from './quote.ts';
import { lineOfWord, type PageText, type WordRange } from './text-layer.ts';

/** How far from any line, in points, a touch still means the text: about the height of two lines. */
export const TEXT_REACH = 26;

/**
 * The word a point means: the one it lies in, or else the nearest of the nearest line. Null where there is no
 * line within `reach` points.
 */
export function wordAt(text: PageText, point: Point, reach = TEXT_REACH): number | null {
  let line = null;
  let lineDistance = Infinity;
  for (const l of text.lines) {
    const d = distanceToBox(point, l.box);
    if (d < lineDistance) {
      lineDistance = d;
      line = l;
    }
  }
  if (!line || lineDistance > reach) return null;
  let best = line.from;
  let bestDistance = Infinity;
  for (let i = line.from; i < line.to; i++) {
    const box = text.words[i]!.box;
    if (contains(box, point)) return i;
    const d = distanceToBox(point, box);
    if (d < bestDistance) {
      bestDistance = d;
      best = i;
    }
  }
  return best;
}

/** Whole words in reading order from where a drag began to where it is now; null when it began away from text. */
export function wordsBetween(text: PageText, start: Point, end: Point): WordRange | null {
  const a = wordAt(text, start);
  if (a === null) return null;
  const b = wordAt(text, end, Infinity);
  if (b === null) return null;
  return { from: Math.min(a, b), to: Math.max(a, b) };
}

/** The gap between two words that a touch means, as the caret that marks it: after the word it is nearest to the end of, or before it. Null away from text. */
export function caretAt(text: PageText, point: Point, reach = TEXT_REACH): Caret | null {
  const word = wordAt(text, point, reach);
  const line = word === null ? undefined : lineOfWord(text, word);
  if (word === null || !line) return null;
  const [l, , r] = text.words[word]!.box;
  const first = word === line.from;
  const left = point[0] < (l + r) / 2;
  if (left && !first) return caretAfter(text, word - 1);
  return left ? caretBefore(text, word) : caretAfter(text, word);
}

/** The caret after a word: in the middle of the gap to the next one of its line. */
export function caretAfter(text: PageText, word: number): Caret {
  const line = lineOfWord(text, word)!;
  const end = text.words[word]!.box[2];
  const next = word + 1 < line.to ? text.words[word + 1]!.box[0] : end + 4;
  return caret(text, word, 'after', (end + Math.max(end, next)) / 2);
}

const caretBefore = (text: PageText, word: number): Caret =>
  caret(text, word, 'before', text.words[word]!.box[0] - 2);

function caret(text: PageText, word: number, side: Caret['side'], x: number): Caret {
  const [, top, , bottom] = lineOfWord(text, word)!.box;
  return {
    on: 'caret',
    side,
    x: Math.round(x * 100) / 100,
    top,
    bottom,
    quote: quoteOf(text, { from: word, to: word }),
  };
}
