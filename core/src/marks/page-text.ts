import { type Measure, wrap } from '../answers/fit.ts';
import type { TextMark } from './mark.ts';

/** From one line of page text to the next, as a share of the letters' size. */
export const HAND_LEADING = 1.3;
/** From the top of a line to the foot of its letters, as a share of their size. */
const BASELINE = 0.98;

export interface TextRow {
  readonly text: string;
  /** From the text's own corner to where the row's letters stand, in points as it is read. */
  readonly right: number;
  readonly down: number;
}

/** The rows of page text as they break at its width. `measure` gives the width of a text at a size, in points. */
export function textRows(mark: Pick<TextMark, 'words' | 'w' | 'size'>, measure: Measure): TextRow[] {
  return wrap(mark.words, mark.w, (text) => measure(text, mark.size)).map((row, i) => ({
    text: row.text,
    right: 0,
    down: (i * HAND_LEADING + BASELINE) * mark.size,
  }));
}

/** How high page text is with these words. */
export function textHeight(mark: Pick<TextMark, 'words' | 'w' | 'size'>, measure: Measure): number {
  return Math.max(1, textRows(mark, measure).length) * HAND_LEADING * mark.size;
}

/** The words as they break at another width, in points, and as high as they then are; never narrower than two of their letters. */
export function withWidth(mark: TextMark, w: number, measure: Measure): TextMark {
  const wide = Math.round(Math.min(4000, Math.max(8, 2 * mark.size, w)) * 100) / 100;
  return { ...mark, w: wide, h: textHeight({ ...mark, w: wide }, measure) };
}
