import type { Box } from '../geometry/box.ts';
import type { PageText } from '../passage/text-layer.ts';
import type { Question } from '../questions/question.ts';

/** Width of a text at a size, both in points: the browser and the PDF writer each bring their own. */
export type Measure = (text: string, size: number) => number;

export interface FittedLine {
  readonly text: string;
  readonly x: number;
  /** Baseline. */
  readonly y: number;
}

export interface Fitted {
  readonly size: number;
  /** Distance of two baselines in points. */
  readonly leading: number;
  readonly lines: readonly FittedLine[];
  /** What found no room, to be written elsewhere; empty when all fits. */
  readonly rest: string;
}

/** Distance of writing from the edges of its box, in points. */
export const INSET = 3;
const LARGEST = 12;
const SMALLEST = 7;
/** Line distance over size where the page brings no rules of its own. */
const LEADING = 1.3;
/** Where a baseline stands in its line, from above. */
const BASELINE = 0.76;

/** Size and line distance that writing in a region begins with, in points. */
export function startSize(question: Pick<Question, 'box' | 'answer'>): { size: number; leading: number } {
  const height = question.box[3] - question.box[1];
  if (question.answer.kind === 'paragraph') {
    if (question.answer.lines !== null) {
      const leading = height / question.answer.lines;
      return { size: Math.min(LARGEST, leading * 0.62), leading };
    }
    const size = Math.max(SMALLEST, Math.min(LARGEST - 1, height / LEADING));
    return { size, leading: size * LEADING };
  }
  const size = Math.max(SMALLEST, Math.min(LARGEST, height * 0.68));
  return { size, leading: Math.max(size, height) };
}

/**
 * Lays an answer into its region. A line shrinks until it fits its width; a paragraph fills its box, smaller if it must,
 * but on ruled lines it keeps to them. What still finds no room comes back as `rest`: it is never lost.
 */
export function fitAnswer(
  question: Pick<Question, 'box' | 'answer'>,
  text: string,
  measure: Measure,
): Fitted {
  const { box, answer } = question;
  const start = startSize(question);
  const width = box[2] - box[0] - 2 * INSET;
  if (answer.kind !== 'paragraph') {
    const one = text.replace(/\s*\n\s*/g, answer.kind === 'choice' ? ', ' : ' ');
    let size = start.size;
    while (size > SMALLEST && measure(one, size) > width) size = Math.max(SMALLEST, size - 0.5);
    const [line, rest] = cut(one, width, (t) => measure(t, size));
    const middle = (box[1] + box[3]) / 2;
    const lines = line ? [{ text: line, x: box[0] + INSET, y: middle + size * 0.35 }] : [];
    return { size, leading: start.leading, lines, rest };
  }
  const ruled = answer.lines !== null;
  for (let size = start.size; ; size -= 0.5) {
    const leading = ruled ? start.leading : size * LEADING;
    const room = Math.max(1, Math.floor((box[3] - box[1] + 0.01) / leading));
    const rows = wrap(text, width, (t) => measure(t, size), room + 1);
    if (rows.length <= room || size - 0.5 < SMALLEST) {
      const shown = rows.slice(0, room);
      return {
        size,
        leading,
        lines: shown
          .map((row, i) => ({ text: row.text, x: box[0] + INSET, y: baseline(box, leading, i, size, ruled) }))
          .filter((l) => l.text !== ''),
        rest: rows.length > room ? text.slice(rows[room]!.from).trim() : '',
      };
    }
  }
}

function baseline(box: Box, leading: number, row: number, size: number, ruled: boolean): number {
  // On ruled lines writing stands a little above its rule.
  return ruled
    ? box[1] + leading * (row + 1) - size * 0.22
    : box[1] + leading * row + size * LEADING * BASELINE;
}

interface Row {
  readonly text: string;
  /** Where the row begins in the text. */
  readonly from: number;
}

/**
 * Breaks a text into rows of at most `width`: at spaces, and inside a word only when the word alone is too long. After
 * `most` rows it stops.
 */
export function wrap(
  text: string,
  width: number,
  measure: (text: string) => number,
  most = Number.POSITIVE_INFINITY,
): Row[] {
  const rows: Row[] = [];
  let at = 0;
  for (const line of text.split('\n')) {
    let from = at;
    let rest = line;
    while (rest.length) {
      if (rows.length >= most) return rows;
      const [row, left] = cut(rest, width, measure);
      // Not even one letter fits: it is taken all the same, so that there is an end.
      const taken = row || [...rest][0]!;
      rows.push({ text: taken, from });
      const next = row ? left : rest.slice(taken.length);
      from += rest.length - next.length;
      rest = next;
    }
    if (line === '') rows.push({ text: '', from: at });
    at += line.length + 1;
  }
  return rows;
}

/** No row of a page has more letters than this: longer beginnings need not be measured. */
const LONGEST_ROW = 1000;
/** Most rows have fewer. */
const SHORT_ROW = 120;

/** The longest beginning of the text that fits the width, and what remains without the space between them. */
function cut(text: string, width: number, measure: (text: string) => number): [fits: string, rest: string] {
  // From a short beginning on: what stands far behind the row's end is not measured for each of them.
  let low = 0;
  let high = Math.min(text.length, SHORT_ROW);
  while (high < Math.min(text.length, LONGEST_ROW) && measure(text.slice(0, high)) <= width) {
    low = high;
    high = Math.min(2 * high, text.length, LONGEST_ROW);
  }
  if (high === text.length && measure(text) <= width) return [text, ''];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (measure(text.slice(0, middle)) <= width) low = middle;
    else high = middle - 1;
  }
  // A pair of surrogates is one letter.
  if (low > 0 && /[\uD800-\uDBFF]/.test(text[low - 1]!)) low--;
  const space = text.lastIndexOf(' ', low);
  const end = space > 0 ? space : low;
  return [text.slice(0, end).trimEnd(), text.slice(end).trimStart()];
}

export interface LaidOptions {
  readonly size: number;
  /** Left end of each option's ring, and the baseline of its words. */
  readonly options: readonly { readonly text: string; readonly x: number; readonly y: number }[];
}

/** A ring and its distance from the words, over the size. */
const RING = 0.95;
const BETWEEN = 1.4;

/**
 * Lays the options of a choice into its region: in rows while they fit, smaller when they do not. None is left out: at
 * the smallest size they may stand closer than is pretty.
 */
export function layOptions(question: Pick<Question, 'box' | 'answer'>, measure: Measure): LaidOptions {
  const { box, answer } = question;
  if (answer.kind !== 'choice') return { size: LARGEST, options: [] };
  for (let size = LARGEST - 1; ; size -= 0.5) {
    const rows: { text: string; x: number }[][] = [[]];
    let x = box[0] + INSET;
    for (const text of answer.options) {
      const w = size * RING + measure(text, size);
      if (x + w > box[2] - INSET && rows.at(-1)!.length) {
        rows.push([]);
        x = box[0] + INSET;
      }
      rows.at(-1)!.push({ text, x });
      x += w + size * BETWEEN;
    }
    const height = box[3] - box[1];
    const wanted = rows.length * size * LEADING;
    if (wanted <= height || size - 0.5 < SMALLEST) {
      const leading = Math.min(height / rows.length, size * LEADING * 1.5);
      const top = box[1] + Math.max(0, (height - leading * rows.length) / 2);
      return {
        size,
        options: rows.flatMap((row, i) =>
          row.map((o) => ({ ...o, y: top + leading * i + leading / 2 + size * 0.35 })),
        ),
      };
    }
  }
}

/** Whether the unit of a number is printed right behind its region, so that it need not be written again. */
export function unitIsPrinted(question: Question, text: PageText | undefined): boolean {
  if (question.answer.kind !== 'number' || question.answer.unit === '') return true;
  const { unit } = question.answer;
  const [, top, right, bottom] = question.box;
  return (text?.words ?? []).some(
    (w) =>
      w.box[0] > right - 6 &&
      w.box[0] < right + 24 &&
      w.box[1] < bottom &&
      w.box[3] > top &&
      w.text.replace(/[.,;]$/, '').replace(/^[_.…]+/, '') === unit,
  );
}
