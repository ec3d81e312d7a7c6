import { type Box, distanceToBox, type Point } from '../geometry/box.ts';
import type { Caret } from '../marks/mark.ts';
import { quoteOf } from './quote.ts';
import { BLANK, type Line, lineOfWord, type PageText, type WordRange } from './text-layer.ts';

/** How far from any line, in points, a touch still means the text: about the height of two lines. */
export const TEXT_REACH = 26;

/** What stands over a blank is meant before it, and so near, in points, is over it. */
const NEAR_BLANK = 2;
/** Words this much nearer than others, in points, are meant before them. */
const NEARER = 0.5;
/** Of the lower of two boxes so much lies beside the other across the line: they lie on each other. */
const OVERLAID = 0.6;

interface Candidate {
  readonly word: number;
  readonly box: Box;
  readonly blank: boolean;
  /** From the point to the word. */
  readonly distance: number;
  /** From the point to the middle of its line, across it. */
  readonly off: number;
  readonly along: 'x' | 'y';
}

/** How far a point lies from a line, along the way the line runs and across it; 0 within. */
function fromLine([x, y]: Point, { box, along }: Line): { along: number; across: number } {
  const dx = Math.max(box[0] - x, 0, x - box[2]);
  const dy = Math.max(box[1] - y, 0, y - box[3]);
  return along === 'x' ? { along: dx, across: dy } : { along: dy, across: dx };
}

function nearestIn(text: PageText, line: Line, point: Point): Candidate {
  let word = line.from;
  let distance = Infinity;
  for (let i = line.from; i < line.to; i++) {
    const d = distanceToBox(point, text.words[i]!.box);
    if (d >= distance) continue;
    distance = d;
    word = i;
  }
  const { box } = line;
  const off =
    line.along === 'x'
      ? Math.abs(point[1] - (box[1] + box[3]) / 2)
      : Math.abs(point[0] - (box[0] + box[2]) / 2);
  const blank = BLANK.test(text.words[word]!.text);
  return { word, box: text.words[word]!.box, blank, distance, off, along: line.along };
}

/** Whether two words lie on each other across their lines, as an answer lies on its blank. */
function overlaid(a: Candidate, b: Candidate): boolean {
  const [from, to] = a.along === 'x' ? [1, 3] : [0, 2];
  const shared = Math.min(a.box[to]!, b.box[to]!) - Math.max(a.box[from]!, b.box[from]!);
  const lower = Math.min(a.box[to]! - a.box[from]!, b.box[to]! - b.box[from]!);
  return shared >= OVERLAID * lower;
}

/** Of two words that a point could mean the one that is meant: not the blank below an answer, the nearer, the topmost. */
function meant(a: Candidate, b: Candidate): Candidate {
  if (a.blank !== b.blank) {
    const [blank, said] = a.blank ? [a, b] : [b, a];
    return said.distance <= blank.distance + NEAR_BLANK ? said : blank;
  }
  if (Math.abs(a.distance - b.distance) > NEARER) return a.distance < b.distance ? a : b;
  if (overlaid(a, b)) return a.word > b.word ? a : b;
  return a.off <= b.off ? a : b;
}

/**
 * The word a point means: the one it lies in, or else the nearest of the nearest line; where words lie on each other the topmost (a page's words come in
 * the order they are drawn), and what is written on a blank before the blank. Null where there is no line within `reach` points.
 */
export function wordAt(text: PageText, point: Point, reach = TEXT_REACH): number | null {
  const near = text.lines.map((line) => distanceToBox(point, line.box));
  const least = near.reduce((a, b) => Math.min(a, b), Infinity);
  if (least > reach) return null;
  const candidates = text.lines.flatMap((line, i) =>
    near[i]! <= least + NEAR_BLANK ? [nearestIn(text, line, point)] : [],
  );
  return candidates.reduce(meant).word;
}

/** Whether two lines run the same way and stand in one column: along their way they share a part of the shorter. */
function oneColumn(a: Line, b: Line): boolean {
  if (a.along !== b.along) return false;
  const [from, to] = a.along === 'x' ? [0, 2] : [1, 3];
  const shared = Math.min(a.box[to]!, b.box[to]!) - Math.max(a.box[from]!, b.box[from]!);
  return shared > 0.2 * Math.min(a.box[to]! - a.box[from]!, b.box[to]! - b.box[from]!);
}

/** The word at which a drag from this line ends in the white: of the line beside which it ends, in the column it began in. */
function wordBeside(text: PageText, began: Line, end: Point): number {
  const column = text.lines.filter((line) => oneColumn(line, began));
  const least = column.reduce((a, line) => Math.min(a, fromLine(end, line).across), Infinity);
  const beside = column.filter((line) => fromLine(end, line).across <= least + 0.01);
  return beside.map((line) => nearestIn(text, line, end)).reduce(meant).word;
}

/**
 * Whole words in reading order from where a drag began to where it is now; null when it began away from text. A drag that ends in the white right of a line
 * ends with that line, however near the next one is.
 */
export function wordsBetween(text: PageText, start: Point, end: Point): WordRange | null {
  const a = wordAt(text, start);
  const began = a === null ? undefined : lineOfWord(text, a);
  if (a === null || !began) return null;
  const on = wordAt(text, end, 0);
  const hit = on !== null && distanceToBox(end, text.words[on]!.box) <= NEAR_BLANK;
  const b = hit ? on : wordBeside(text, began, end);
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

/** The caret before the first word of a line. */
export const caretBefore = (text: PageText, word: number): Caret =>
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
