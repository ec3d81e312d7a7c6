import * as z from 'zod';
import { PileQuestions } from '../tally/asked.ts';
import { type Reading, readVersioned } from '../versions/reading.ts';
import { LateRule } from './late.ts';
import { Scale } from './scale.ts';

/** How an assignment is scored: what makes its grade, and how it is written. */
export const Scoring = z.object({
  v: z.literal(1),
  /** What makes the grade: nothing (it is typed), the tally, the rubric, or both by shares. Otherwise a rubric only informs. */
  by: z.enum(['hand', 'tally', 'rubric', 'both']),
  /** The tally's share where both make it, in percent; the rest is the rubric's. */
  tallyShare: z.int().min(0).max(100),
  /** A criterion that was not shown is left out of the sum, or counts as 0. */
  notShown: z.enum(['left-out', 'zero']),
  scale: Scale,
  rounding: z.object({
    /** To steps of so many hundredths of a point: 1 keeps all, 50 gives halves, 100 whole points. */
    to: z.union([z.literal(1), z.literal(10), z.literal(25), z.literal(50), z.literal(100)]),
    way: z.enum(['nearest', 'up', 'down']),
  }),
  /** Null: being late costs nothing. */
  late: LateRule.nullable(),
  /** Which counts when work is handed in again. */
  again: z.enum(['later', 'better']),
  /** Questions of files that come in without a worksheet. */
  questions: PileQuestions,
  /** Whether families see the rubric on their page. */
  familySeesRubric: z.boolean(),
});
export type Scoring = z.infer<typeof Scoring>;

/** As an assignment is scored that says nothing of it: by its questions where they have points, else by hand. */
export function plainScoring(hasPoints: boolean): Scoring {
  return {
    v: 1,
    by: hasPoints ? 'tally' : 'hand',
    tallyShare: 50,
    notShown: 'left-out',
    scale: { kind: 'points' },
    rounding: { to: 1, way: 'nearest' },
    late: null,
    again: 'later',
    questions: [],
    familySeesRubric: false,
  };
}

/** Reads a scoring of any version there ever was. */
export const readScoring = (raw: unknown): Reading<Scoring> => readVersioned(raw, [], Scoring);
