import * as z from 'zod';
import type { Box } from '../geometry/box.ts';

const Coordinate = z.number().min(-20_000).max(20_000);
export const BoxSchema = z.tuple([
  Coordinate,
  Coordinate,
  Coordinate,
  Coordinate,
]) as unknown as z.ZodType<Box>;

/** One word of a page as it is read once on arrival: its characters and its box in page space. */
export const Word = z.object({ text: z.string().min(1).max(400), box: BoxSchema });
export type Word = z.infer<typeof Word>;

/**
 * One line of words. `from` and `to` count words of the page (to is one past the last); `box` is as high as the
 * whole line, so that a band over one word is as high as over its neighbour. `along` is the way the line
 * runs in page space: a page that is shown turned has lines that run along y.
 */
export const Line = z.object({
  from: z.int().min(0),
  to: z.int().min(0),
  box: BoxSchema,
  along: z.enum(['x', 'y']),
});
export type Line = z.infer<typeof Line>;

/** More words than a page can show to anybody: those behind them are seen, but not found or selected. */
export const MOST_WORDS_OF_A_PAGE = 200_000;
export const MOST_LINES_OF_A_PAGE = 50_000;

/** The text of one page in reading order. A scan has no words and no lines. */
export const PageText = z.object({
  words: z.array(Word).max(MOST_WORDS_OF_A_PAGE),
  lines: z.array(Line).max(MOST_LINES_OF_A_PAGE),
});
export type PageText = z.infer<typeof PageText>;

/** A word that is only a rule to write on: underscores, dots, dashes. */
export const BLANK = /^[_.\u2026\u00b7\u2024\u2500\u2013\u2014-]{2,}$/;

/** Words from `from` up to and with `to`, counted in the page's reading order. */
export interface WordRange {
  readonly from: number;
  readonly to: number;
}

/** The words of the page as one string, a space between each two: what quotes and their positions count in. */
export function pageString(text: PageText): string {
  return text.words.map((w) => w.text).join(' ');
}

export function lineOfWord(text: PageText, word: number): Line | undefined {
  return text.lines.find((l) => word >= l.from && word < l.to);
}

/** One band for every line that the range touches, as high as the line and as long as its words. */
export function bandsOver(text: PageText, range: WordRange): Box[] {
  const bands: Box[] = [];
  for (const line of text.lines) {
    const from = Math.max(line.from, range.from);
    const to = Math.min(line.to - 1, range.to);
    if (from > to) continue;
    let l = Infinity;
    let t = Infinity;
    let r = -Infinity;
    let b = -Infinity;
    for (let i = from; i <= to; i++) {
      const box = text.words[i]!.box;
      l = Math.min(l, box[0]);
      t = Math.min(t, box[1]);
      r = Math.max(r, box[2]);
      b = Math.max(b, box[3]);
    }
    bands.push(line.along === 'x' ? [l, line.box[1], r, line.box[3]] : [line.box[0], t, line.box[2], b]);
  }
  return bands;
}
