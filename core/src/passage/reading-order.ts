import type { Box } from '../geometry/box.ts';
import {
  BLANK,
  type Line,
  MOST_LINES_OF_A_PAGE,
  MOST_WORDS_OF_A_PAGE,
  type PageText,
  type Word,
} from './text-layer.ts';

/** No page that somebody reads has more lines, or more pairs of a blank and a word; beyond these it is left as it is drawn. */
const MOST_LINES = 3000;
const MOST_PAIRS = 3_000_000;

/** One line as it was drawn: its words, its box, the way it runs. */
export interface DrawnLine {
  readonly words: readonly Word[];
  readonly box: Box;
  readonly along: Line['along'];
}

/** Where a box lies along a line's way and across it. */
const spans = (box: Box, along: Line['along']) =>
  along === 'x'
    ? { from: box[0], to: box[2], top: box[1], bottom: box[3] }
    : { from: box[1], to: box[3], top: box[0], bottom: box[2] };

/** Whether two boxes share more than half of the lower across the way, and something along it. */
function liesOn(a: Box, b: Box, along: Line['along']): boolean {
  const [s, t] = [spans(a, along), spans(b, along)];
  const shared = Math.min(s.bottom, t.bottom) - Math.max(s.top, t.top);
  return (
    Math.min(s.to, t.to) > Math.max(s.from, t.from) &&
    shared > 0.5 * Math.min(s.bottom - s.top, t.bottom - t.top)
  );
}

/** Whether `b` stands below `a` in the same column: lower by more than half of it, and over or under a part of it. */
function isBelow(b: DrawnLine, a: DrawnLine): boolean {
  if (a.along !== b.along) return false;
  const [s, t] = [spans(a.box, a.along), spans(b.box, a.along)];
  return t.top > s.top + 0.5 * (s.bottom - s.top) && Math.min(s.to, t.to) > Math.max(s.from, t.from);
}

/** Blanks on which something was written are no words any more. */
function withoutWrittenOn(lines: readonly DrawnLine[]): readonly DrawnLine[] {
  const said = lines.flatMap((line) => line.words.filter((w) => !BLANK.test(w.text)));
  const blanks = lines.reduce((n, line) => n + line.words.filter((w) => BLANK.test(w.text)).length, 0);
  if (blanks === 0 || blanks * said.length > MOST_PAIRS) return lines;
  return lines.flatMap((line) => {
    const words = line.words.filter(
      (w) => !BLANK.test(w.text) || !said.some((s) => liesOn(s.box, w.box, line.along)),
    );
    return words.length ? [words.length === line.words.length ? line : { ...line, words }] : [];
  });
}

/**
 * The text of a page in the order it is read, from its lines in the order they are drawn. That is one order mostly; but what was written into a page later
 * (typed answers, a head line) is drawn last and stands between. A line comes before those of its column that stand below it, and stays behind what it
 * lies on; lines of other columns do not matter to it. A blank on which something was written is left out: what lies on it is what is read.
 */
export function inReadOrder(drawn: readonly DrawnLine[]): PageText {
  const placed: DrawnLine[] = [];
  for (const line of withoutWrittenOn(drawn)) {
    const before = drawn.length > MOST_LINES ? -1 : placed.findIndex((other) => isBelow(other, line));
    placed.splice(before < 0 ? placed.length : before, 0, line);
  }
  const words: Word[] = [];
  const lines: Line[] = [];
  for (const line of placed) {
    const from = words.length;
    if (from >= MOST_WORDS_OF_A_PAGE || lines.length >= MOST_LINES_OF_A_PAGE) break;
    for (const word of line.words.slice(0, MOST_WORDS_OF_A_PAGE - from)) words.push(word);
    lines.push({ from, to: words.length, box: line.box, along: line.along });
  }
  return { words, lines };
}
