import { type Measure, wrap } from '../answers/fit.ts';
import { type DrawFormulas, measureSet, piecesIn, type SetPiece, setLines } from '../words/set.ts';
import type { TextMark } from './mark.ts';

/** From one line of page text to the next, as a share of the letters' size. */
export const HAND_LEADING = 1.3;
/** From the top of a line to the foot of its letters, as a share of their size. */
const BASELINE = 0.98;
/** How far the items of a list stand in, and between what is before an item and its words, as shares of the size. */
const ITEM_IN = 0.35;
const ITEM_GAP = 0.4;
/** How bold is written in a hand of which there is one weight: a line round each letter, as a share of the size; and how italic leans. */
export const HAND_BOLD = 0.045;
export const HAND_LEAN = 0.2;

export interface TextRow {
  readonly pieces: readonly SetPiece[];
  /** From the text's own corner to where the row's letters stand, in points as it is read. */
  readonly right: number;
  readonly down: number;
  /** How far it goes to the right, from the same corner. */
  readonly end: number;
}

/**
 * The rows of page text as they break at its width: bold, italic and lists as they are meant, formulas drawn. `measure` gives the width of a text at a
 * size, in points.
 */
export function textRows(
  mark: Pick<TextMark, 'words' | 'w' | 'size'>,
  measure: Measure,
  draw: DrawFormulas = null,
): TextRow[] {
  const { size } = mark;
  const { lines, formulas } = setLines(mark.words, draw);
  const width = measureSet({ formulas }, measure);
  const rows: TextRow[] = [];
  for (const { text, before } of lines) {
    const right = before === null ? 0 : size * (ITEM_IN + ITEM_GAP) + measure(before, size);
    const broken = wrap(text, Math.max(size, mark.w - right), (t) => width(t, size)).map((r) => r.text);
    for (const [i, pieces] of piecesIn(broken, { formulas }, measure, size).entries()) {
      const sign: SetPiece[] =
        before !== null && i === 0
          ? [{ as: 'text', x: ITEM_IN * size - right, text: before, bold: false, italic: false }]
          : [];
      rows.push({
        pieces: [...sign, ...pieces],
        right,
        down: (rows.length * HAND_LEADING + BASELINE) * size,
        end: right + width(broken[i]!, size),
      });
    }
  }
  return rows;
}

/** How high page text is with these words. */
export function textHeight(
  mark: Pick<TextMark, 'words' | 'w' | 'size'>,
  measure: Measure,
  draw: DrawFormulas = null,
): number {
  return Math.max(1, textRows(mark, measure, draw).length) * HAND_LEADING * mark.size;
}

/** The words as they break at another width, in points, and as high as they then are; never narrower than two of their letters. */
export function withWidth(mark: TextMark, w: number, measure: Measure, draw: DrawFormulas = null): TextMark {
  const wide = Math.round(Math.min(4000, Math.max(8, 2 * mark.size, w)) * 100) / 100;
  return { ...mark, w: wide, h: textHeight({ ...mark, w: wide }, measure, draw) };
}
