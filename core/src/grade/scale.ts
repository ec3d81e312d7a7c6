import * as z from 'zod';
import { formatPoints, parsePoints } from '../points/points.ts';

/** From which share of the most a word is reached, in hundredths of a percent: 8750 is 87.5 %. */
const Share = z.int().min(0).max(10_000);

/** How a grade is written. What is kept are always points, so that a scale can be changed without touching a grade. */
export const Scale = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('points') }),
  z.object({ kind: z.literal('percent') }),
  /** Letters, or a table of one's own: the best first, the last from 0 on. */
  z.object({
    kind: z.literal('table'),
    rows: z
      .array(z.object({ label: z.string().trim().min(1).max(20), from: Share }))
      .min(2)
      .max(40)
      .refine((rows) => rows.every((r, i) => i === 0 || r.from < rows[i - 1]!.from), 'from the best down')
      .refine((rows) => rows.at(-1)!.from === 0, 'the last from 0 on')
      .refine(
        (rows) => new Set(rows.map((r) => r.label.toLowerCase())).size === rows.length,
        'each word once',
      ),
  }),
  /** Done, from this share on, or not yet. */
  z.object({ kind: z.literal('done'), from: Share }),
]);
export type Scale = z.infer<typeof Scale>;

/** Letters to begin with, when a teacher wants some: their steps are theirs to change. */
export const LETTERS: Extract<Scale, { kind: 'table' }> = {
  kind: 'table',
  rows: [
    { label: 'A', from: 8500 },
    { label: 'B', from: 7000 },
    { label: 'C', from: 5500 },
    { label: 'D', from: 4000 },
    { label: 'E', from: 0 },
  ],
};

export const DONE = 'Done';
export const NOT_YET = 'Not yet';

/** Whether points reach a share of the most, compared exactly. */
const reaches = (points: number, most: number, share: number): boolean => points * 10_000 >= most * share;

/** The least points that reach a share. */
const reached = (share: number, most: number): number => Math.ceil((most * share) / 10_000);

/** A grade as it is read: "14½", "80.5 %", "B", "Done". `value` and `most` are in hundredths of a point. */
export function formatGrade(value: number, most: number, scale: Scale): string {
  switch (scale.kind) {
    case 'points':
      return formatPoints(value);
    case 'percent':
      return `${formatPercent(value, most)} %`;
    case 'table':
      return (scale.rows.find((r) => reaches(value, most, r.from)) ?? scale.rows.at(-1)!).label;
    case 'done':
      return reaches(value, most, scale.from) ? DONE : NOT_YET;
  }
}

function formatPercent(value: number, most: number): string {
  if (most === 0) return '0';
  // Whole percents come back as they were typed, also where the most cannot be divided by 100.
  const whole = Math.round((value * 100) / most);
  if (Math.round((most * whole) / 100) === value) return String(whole);
  const tenths = Math.round((value * 1000) / most);
  return tenths % 10 === 0 ? String(tenths / 10) : (tenths / 10).toFixed(1);
}

export type ParsedGrade =
  | { readonly ok: true; readonly value: number }
  | {
      readonly ok: false;
      readonly reason: 'empty' | 'not-a-number' | 'negative' | 'too-fine' | 'above-most' | 'no-such-word';
    };

/**
 * Reads a grade as a teacher types it, by the scale: points, a percentage, a word of the table (whole, or its beginning where only one word begins so).
 * A word gives the least points that reach it. Of a table and of done or not yet, points are taken as well.
 */
export function parseGrade(input: string, most: number, scale: Scale): ParsedGrade {
  const text = input.trim();
  if (text === '') return { ok: false, reason: 'empty' };
  switch (scale.kind) {
    case 'points':
      return parsePoints(text, most);
    case 'percent': {
      const read = parsePoints(text.replace(/\s*%$/, ''), 10_000);
      return read.ok ? { ok: true, value: Math.round((most * read.value) / 10_000) } : read;
    }
    case 'table': {
      const row = wordOf(text, scale.rows, (r) => r.label);
      return row ? { ok: true, value: reached(row.from, most) } : orPoints(text, most);
    }
    case 'done': {
      const word = wordOf(text, [DONE, NOT_YET], (w) => w);
      return word ? { ok: true, value: word === DONE ? most : 0 } : orPoints(text, most);
    }
  }
}

function wordOf<T>(text: string, all: readonly T[], label: (one: T) => string): T | null {
  const typed = text.toLowerCase();
  const exact = all.find((one) => label(one).toLowerCase() === typed);
  if (exact) return exact;
  const begun = all.filter((one) => label(one).toLowerCase().startsWith(typed));
  return begun.length === 1 ? begun[0]! : null;
}

function orPoints(text: string, most: number): ParsedGrade {
  const read = parsePoints(text, most);
  return !read.ok && read.reason === 'not-a-number' ? { ok: false, reason: 'no-such-word' } : read;
}

/** What stands behind a grade: "/ 18", nothing where the grade says it all. */
export const formatMost = (most: number, scale: Scale): string =>
  scale.kind === 'points' ? `/ ${formatPoints(most)}` : '';
