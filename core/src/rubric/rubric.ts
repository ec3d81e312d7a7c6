import * as z from 'zod';
import { CriterionId, LevelId } from '../ids/id.ts';
import { MAX_POINTS } from '../points/points.ts';
import { type Reading, readVersioned } from '../versions/reading.ts';

/** One step of a criterion, with the words that describe it. Without points it is a standard that is reached or not. */
export const Level = z.object({
  id: LevelId,
  name: z.string().trim().max(100),
  descriptor: z.string().max(4000),
  /** In hundredths of a point. */
  points: z.int().min(0).max(MAX_POINTS).nullable(),
});
export type Level = z.infer<typeof Level>;

export const Criterion = z.object({
  id: CriterionId,
  name: z.string().trim().min(1).max(200),
  /** From the least to the most; criteria of one rubric may have different ones. */
  levels: z.array(Level).min(1).max(20),
  /** Hundredths by which its points count: 100 is once. */
  weight: z.int().min(0).max(10_000),
});
export type Criterion = z.infer<typeof Criterion>;

/** A version of a rubric, as it hangs on an assignment. What was scored with a version keeps it. */
export const Rubric = z.object({ v: z.literal(1), criteria: z.array(Criterion).min(1).max(50) });
export type Rubric = z.infer<typeof Rubric>;

/** Reads a rubric of any version there ever was. */
export const readRubric = (raw: unknown): Reading<Rubric> => readVersioned(raw, [], Rubric);
