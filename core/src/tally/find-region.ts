import type { Box } from '../geometry/box.ts';
import type { Line, PageText } from '../passage/text-layer.ts';
import type { PileQuestion } from './asked.ts';

/** So much of a drawn place is kept of what is printed in it. */
const MOST_LETTERS = 400;
/** So much of their words two lines share at least to be the same printed line. */
const SAME_LINE = 0.75;

const words = (page: PageText, line: Line): string[] =>
  page.words.slice(line.from, line.to).map((w) => w.text);
const normal = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w !== '');

/** What is printed in a place that was drawn: its first line that says something, and where that line stands. Null on a scan or an empty place. */
export function printedAt(page: PageText, box: Box): { readonly printed: string; readonly at: Box } | null {
  let first: Line | null = null;
  for (const line of page.lines) {
    const middle = (line.box[1] + line.box[3]) / 2;
    const inside = middle >= box[1] && middle <= box[3] && line.box[0] < box[2] && line.box[2] > box[0];
    if (!inside || normal(words(page, line).join(' ')).length === 0) continue;
    if (!first || line.box[1] < first.box[1]) first = line;
  }
  return first && { printed: words(page, first).join(' ').slice(0, MOST_LETTERS), at: first.box };
}

/** Where a question stands in another file. */
export interface FoundRegion {
  readonly page: number;
  readonly box: Box;
  /** By its printed line, or only by the place that was drawn. */
  readonly by: 'print' | 'place';
}

/**
 * Finds a question's place in another copy by the line that is printed there: the most similar line of all pages (shared words, L. R. Dice, 1945), the nearest to where
 * it was drawn of several; the place moves with the line. Where no line is like it (a photo, a scan) the place stays as it was drawn. Null: it was never drawn,
 * or the file has no such page.
 */
export function findRegion(
  region: PileQuestion['region'],
  pages: readonly PageText[],
  pageCount: number,
): FoundRegion | null {
  if (!region) return null;
  const best = region.at && bestLine(region.printed, region.page, region.at, pages);
  if (best && region.at) {
    const [dx, dy] = [best.box[0] - region.at[0], best.box[1] - region.at[1]];
    const [l, t, r, b] = region.box;
    return { page: best.page, box: [l + dx, t + dy, r + dx, b + dy], by: 'print' };
  }
  return region.page < pageCount ? { page: region.page, box: region.box, by: 'place' } : null;
}

function bestLine(printed: string, drawnOn: number, at: Box, pages: readonly PageText[]) {
  const wanted = normal(printed);
  if (wanted.length === 0) return null;
  let best: { page: number; box: Box; like: number; off: number } | null = null;
  for (const [page, text] of pages.entries())
    for (const line of text.lines) {
      const like = share(wanted, normal(words(text, line).join(' ')));
      if (like < SAME_LINE) continue;
      const off = Math.abs(page - drawnOn) * 10_000 + Math.abs(line.box[1] - at[1]);
      if (!best || like > best.like || (like === best.like && off < best.off))
        best = { page, box: line.box, like, off };
    }
  return best;
}

function share(a: readonly string[], b: readonly string[]): number {
  if (a.length + b.length === 0) return 0;
  const left = new Map<string, number>();
  for (const w of b) left.set(w, (left.get(w) ?? 0) + 1);
  let shared = 0;
  for (const w of a) {
    const n = left.get(w) ?? 0;
    if (n > 0) {
      shared++;
      left.set(w, n - 1);
    }
  }
  return (2 * shared) / (a.length + b.length);
}
