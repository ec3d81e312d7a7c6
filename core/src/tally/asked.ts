import * as z from 'zod';
import { type Box, distanceToBox } from '../geometry/box.ts';
import { type DocumentId, QuestionId } from '../ids/id.ts';
import type { Mark, NoteMark, StampMark } from '../marks/mark.ts';
import { BoxSchema } from '../passage/text-layer.ts';
import { MAX_POINTS } from '../points/points.ts';
import { inPageOrder, MOST_QUESTIONS, numberQuestions, type Question } from '../questions/question.ts';
import { LINED_BOX } from '../writing/lined-page.ts';

/** A question of files that come in without a worksheet: named once for the pile, and where it stands on one of the copies. */
export const PileQuestion = z.object({
  id: QuestionId,
  label: z.string().trim().min(1).max(8),
  name: z.string().trim().max(120),
  /** The most it can earn, in hundredths; null: it earns nothing by itself. */
  points: z.int().min(0).max(MAX_POINTS).nullable(),
  /** Where it was drawn, and what is printed there, by which it is found on other copies. */
  region: z
    .object({
      page: z.int().min(0).max(499),
      box: BoxSchema,
      /** Its first printed line; empty: found by its place alone. */
      printed: z.string().max(400),
      /** Where that line stands. */
      at: BoxSchema.nullable(),
    })
    .nullable(),
});
export type PileQuestion = z.infer<typeof PileQuestion>;
export const PileQuestions = z
  .array(PileQuestion)
  .max(MOST_QUESTIONS)
  .refine((qs) => new Set(qs.map((q) => q.id)).size === qs.length, 'each question once');

/** Where a question stands in what was handed in. */
export interface Region {
  readonly document: DocumentId;
  readonly page: number;
  readonly box: Box;
}

/** An answer that stands on pages of its own: from which on, and how many, in what was handed in. */
export const Flow = z.object({ question: QuestionId, page: z.int().min(0), pages: z.int().min(1) });
export type Flow = z.infer<typeof Flow>;

/** A question as the tally knows it, wherever it comes from. */
export interface Asked {
  readonly id: QuestionId;
  /** Its number: 1, 2a … */
  readonly label: string;
  readonly name: string;
  /** The most it can earn, in hundredths; null: it earns nothing by itself. */
  readonly most: number | null;
  readonly regions: readonly Region[];
}

/** The questions of a worksheet that was filled in, in the order they are read. */
export function askedOnSheet(
  questions: readonly Question[],
  document: DocumentId | null,
  flows: readonly Flow[] = [],
): Asked[] {
  const labels = numberQuestions(questions);
  return inPageOrder(questions).map((q) => ({
    id: q.id,
    label: labels.get(q.id)!,
    name: '',
    most: q.points,
    regions: document ? regionsOf(q, document, flows) : [],
  }));
}

function regionsOf(q: Question, document: DocumentId, flows: readonly Flow[]): Region[] {
  const own = flows
    .filter((f) => f.question === q.id)
    .flatMap((f) =>
      Array.from({ length: f.pages }, (_, i) => ({ document, page: f.page + i, box: LINED_BOX })),
    );
  return [{ document, page: q.page, box: q.box }, ...own];
}

/** The questions that were named for a pile, where they were drawn, on the first document that has pages. */
export const askedOfPile = (
  scoring: { readonly questions: readonly PileQuestion[] },
  first: DocumentId | null,
): Asked[] =>
  scoring.questions.map(({ id, label, name, points, region }) => ({
    id,
    label,
    name,
    most: points,
    regions: region && first ? [{ document: first, page: region.page, box: region.box }] : [],
  }));

/** Marks that can earn points. */
export type PointsMark = StampMark | (NoteMark & { readonly points: number });

/** The points on a mark; null: it has none. A pattern note counts once, however many places it has. */
export function pointsOn(mark: Mark): number | null {
  if (mark.kind === 'stamp') return mark.points;
  return mark.kind === 'note' ? (mark.points ?? null) : null;
}

/** The same mark for work that is not graded: no number stands on it. */
export function markWithoutPoints(mark: Mark): Mark {
  if (mark.kind === 'stamp') return { ...mark, points: null };
  if (mark.kind !== 'note') return mark;
  const { points: _, ...bare } = mark;
  return bare;
}

/** Marks stand beside what they are about: along the line this much of a distance counts. */
const ALONG = 0.2;
/** So far from its region, in points, a mark still counts for a question. */
const NEAR = 72;

/** Where a mark stands: the middle of a stamp, the beginning of what a note is about. Null: at no place of a page. */
export function standsAt(mark: Mark): readonly [number, number] | null {
  if (mark.kind === 'stamp') return mark.moment === undefined ? [mark.x, mark.y] : null;
  if (mark.kind !== 'note') return null;
  const { place } = mark;
  if (place.on === 'spot') return [place.x, place.y];
  const box = place.on === 'passage' ? place.bands[0] : place.on === 'box' ? place.box : undefined;
  return box ? [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2] : null;
}

/**
 * The question a mark's points belong to: the one it was given to by hand, else the smallest region it stands in, else the nearest. Null: none is near,
 * or it was said to belong to none.
 */
export function belongsTo(mark: Mark, asked: readonly Asked[]): Asked | null {
  if (mark.kind !== 'stamp' && mark.kind !== 'note') return null;
  if (mark.question === null) return null;
  if (mark.question !== undefined) {
    const given = asked.find((q) => q.id === mark.question);
    // A question that is no longer asked gives its marks back to their place.
    if (given) return given;
  }
  const at = standsAt(mark);
  if (!at) return null;
  let best: Asked | null = null;
  let nearest = NEAR;
  let size = Number.POSITIVE_INFINITY;
  for (const q of asked)
    for (const { document, page, box } of q.regions) {
      if (document !== mark.document || page !== mark.page) continue;
      const d = distanceAlong(at, box);
      const own = (box[2] - box[0]) * (box[3] - box[1]);
      if (d < nearest || (d === nearest && own < size)) [best, nearest, size] = [q, d, own];
    }
  return best;
}

function distanceAlong(at: readonly [number, number], box: Box): number {
  if (distanceToBox([at[0], at[1]], box) === 0) return 0;
  const dx = Math.max(box[0] - at[0], 0, at[0] - box[2]);
  const dy = Math.max(box[1] - at[1], 0, at[1] - box[3]);
  return Math.hypot(dx * ALONG, dy);
}
