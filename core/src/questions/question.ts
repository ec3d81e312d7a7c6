import * as z from 'zod';
import { type Box, distanceToBox, type Point } from '../geometry/box.ts';
import { QuestionId } from '../ids/id.ts';
import { BoxSchema } from '../passage/text-layer.ts';
import { MAX_POINTS } from '../points/points.ts';
import { type Reading, readBy } from '../versions/reading.ts';

/** What kind of answer a question takes. A paragraph on ruled lines knows how many there are, so that writing sits on them. */
export const AnswerKind = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('line') }),
  z.object({ kind: z.literal('paragraph'), lines: z.int().min(1).max(60).nullable() }),
  z.object({ kind: z.literal('number'), unit: z.string().max(20) }),
  /** Lined pages that grow with what is written; about so many words are wished for, null: as many as one likes. */
  z.object({ kind: z.literal('long'), words: z.int().min(1).max(100_000).nullable() }),
  z.object({
    kind: z.literal('choice'),
    options: z
      .array(
        z
          .string()
          .trim()
          .min(1)
          .max(200)
          .regex(/^[^\n\r]*$/),
      )
      .min(1)
      .max(20),
    several: z.boolean(),
  }),
  z.object({ kind: z.literal('drawing') }),
  z.object({ kind: z.literal('none') }),
]);
export type AnswerKind = z.infer<typeof AnswerKind>;

/** A question's region is at least this large on either side, in points. */
export const SMALLEST_REGION = 8;
export const MOST_QUESTIONS = 300;

/** One question of a worksheet: a region of a page, in page space. */
export const Question = z.object({
  id: QuestionId,
  page: z.int().min(0).max(499),
  box: BoxSchema.refine(
    (b) => b[2] - b[0] >= SMALLEST_REGION && b[3] - b[1] >= SMALLEST_REGION,
    `at least ${SMALLEST_REGION} points wide and high`,
  ),
  /** Whether it is a part (2a, 2b …) of the question before it. */
  part: z.boolean(),
  /** A number that was typed over, or read from the page; null: it numbers itself. */
  label: z.string().trim().min(1).max(8).nullable(),
  /** The most it can earn, in hundredths of a point; null: it earns nothing by itself. */
  points: z.int().min(0).max(MAX_POINTS).nullable(),
  answer: AnswerKind,
});
export type Question = z.infer<typeof Question>;

export const Questions = z
  .array(Question)
  .max(MOST_QUESTIONS)
  .refine((qs) => new Set(qs.map((q) => q.id)).size === qs.length, 'each question once');
export type Questions = z.infer<typeof Questions>;

/** Reads the questions of a worksheet as they are stored: a list, which is version 1. */
export function readQuestions(raw: unknown): Reading<Questions> {
  return readBy(Questions, raw);
}

/** Tops this near to each other, in points, stand in one row and are read from left to right. */
const ROW = 6;

/** Questions in the order they are read: page by page, from top to bottom, in a row from left to right. Stable. */
export function inPageOrder<T extends { readonly page: number; readonly box: Box }>(
  questions: readonly T[],
): T[] {
  const byTop = [...questions].sort((a, b) => a.page - b.page || a.box[1] - b.box[1]);
  const out: T[] = [];
  let row: T[] = [];
  const endRow = () => {
    out.push(...row.sort((a, b) => a.box[0] - b.box[0]));
    row = [];
  };
  for (const q of byTop) {
    const first = row[0];
    if (first && (first.page !== q.page || q.box[1] - first.box[1] > ROW)) endRow();
    row.push(q);
  }
  endRow();
  return out;
}

/** "2b" as its number and its letter; null when it is neither. */
export function readLabel(label: string): { number: number; letter: string } | null {
  const match = /^(\d{1,3})\s*([a-z])?$/i.exec(label.trim());
  return match ? { number: Number(match[1]), letter: (match[2] ?? '').toLowerCase() } : null;
}

/**
 * The number of every question: 1, 2, 2a, 2b, 3 … in page order. A part counts letters under the number before it; a
 * label that was typed over stands, counting goes on from it, and its number is given to no other.
 */
export function numberQuestions(questions: readonly Question[]): Map<QuestionId, string> {
  const out = new Map<QuestionId, string>();
  let number = 0;
  let letters = 0;
  // A number that a label says, or that was given, is given to no other.
  const said = new Set(
    questions.map((q) => (q.label === null ? null : (readLabel(q.label)?.number ?? null))),
  );
  for (const q of inPageOrder(questions)) {
    if (q.label !== null) {
      const read = readLabel(q.label);
      if (read) {
        number = read.number;
        letters = read.letter ? read.letter.charCodeAt(0) - 96 : 0;
      }
      out.set(q.id, q.label);
    } else if (q.part && number > 0) {
      letters = Math.min(26, letters + 1);
      out.set(q.id, `${number}${String.fromCharCode(96 + letters)}`);
    } else {
      do number++;
      while (said.has(number));
      said.add(number);
      letters = 0;
      out.set(q.id, String(number));
    }
  }
  return out;
}

/** The most that all questions together can earn, in hundredths. */
export function sumOfPoints(questions: readonly Question[]): number {
  return questions.reduce((sum, q) => sum + (q.points ?? 0), 0);
}

/** So far outside its region, in points, a mark still stands at a question. */
const BESIDE = 24;

/** The question a place on a page belongs to: the smallest region it lies in, or else the nearest. Null where none is near. */
export function questionAt(questions: readonly Question[], page: number, at: Point): Question | null {
  let best: Question | null = null;
  let nearest = BESIDE;
  const sizeOf = ({ box: [l, t, r, b] }: Question) => (r - l) * (b - t);
  for (const q of questions) {
    if (q.page !== page) continue;
    const d = distanceToBox(at, q.box);
    if (d < nearest || (d === nearest && best && sizeOf(q) < sizeOf(best))) [best, nearest] = [q, d];
  }
  return best;
}
