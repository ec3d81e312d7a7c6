import * as z from 'zod';
import { type GradeSum, gradeFrom } from '../grade/grade.ts';
import { Scale } from '../grade/scale.ts';
import type { Scoring } from '../grade/scoring.ts';
import { CriterionId, QuestionId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { Criterion, type Rubric } from '../rubric/rubric.ts';
import { CriterionScore, criterionScore, Round, type Scores } from '../scores/score.ts';
import type { Asked } from '../tally/asked.ts';
import { tallyOf } from '../tally/tally.ts';

export const RoundScores = z.object({
  round: Round,
  /** What was said about the round; of the final one these are the closing words. */
  words: z.string(),
  scores: z.array(z.object({ criterion: CriterionId, score: CriterionScore })),
});
export type RoundScores = z.infer<typeof RoundScores>;

/** What was scored, as a student gets it: points by question, the rubric with where they stand, and what the grade is made of. */
export const ScoredShape = z.object({
  scale: Scale,
  /** Points of questions, in hundredths; null: not scored. */
  lines: z.array(
    z.object({
      id: QuestionId,
      label: z.string(),
      name: z.string(),
      points: z.int().nullable(),
      most: z.int(),
    }),
  ),
  /** The rubric in the version that was scored; null: none. */
  rubric: z.object({ name: z.string(), criteria: z.array(Criterion) }).nullable(),
  /** The rounds there were, the first first. */
  rounds: z.array(RoundScores),
  /** What the grade is made of, where it was computed and not typed over. */
  parts: z.array(
    z.object({ of: z.enum(['tally', 'rubric']), earned: z.number(), most: z.number(), share: z.int() }),
  ),
  /** What lateness cost; null: nothing. */
  late: z.object({ days: z.int(), off: z.int() }).nullable(),
});
export type ScoredShape = z.infer<typeof ScoredShape>;

/** All that scores of a marking are made of. */
export interface ScoredBy {
  readonly most: number | null;
  readonly scoring: Scoring;
  readonly asked: readonly Asked[];
  readonly rubric: { readonly name: string; readonly rubric: Rubric } | null;
  /** In ms. */
  readonly late: number;
}

/** The scores of one round, in the order of the rubric. */
export function roundOf(rubric: Rubric, scores: Scores, round: Round, words: string): RoundScores {
  return {
    round,
    words,
    scores: rubric.criteria.flatMap((c) => {
      const score = criterionScore(scores, round, c.id);
      return score ? [{ criterion: c.id, score }] : [];
    }),
  };
}

/** What of a round was said at all. */
export const saysSomething = (round: RoundScores): boolean =>
  round.scores.length > 0 || round.words.trim() !== '';

/**
 * Freezes what was scored, and computes the grade once more from it. Work that has no grade keeps no number: of its rubric only the levels go back.
 */
export function freezeScores(
  by: ScoredBy,
  standing: {
    readonly marks: readonly Mark[];
    readonly scores: Scores;
    readonly midway: RoundScores | null;
    readonly lifted: boolean;
    /** Whether a grade was typed over the computed one. */
    readonly typed: boolean;
  },
): { readonly scored: ScoredShape | null; readonly sum: GradeSum } {
  const tally = tallyOf(by.asked, standing.marks, standing.scores);
  const rubric = by.rubric?.rubric ?? null;
  const sum = gradeFrom({ ...by, rubric, scores: standing.scores, lifted: standing.lifted }, tally);
  const rounds = rubric
    ? [standing.midway, roundOf(rubric, standing.scores, 'final', '')].filter(
        (r): r is RoundScores => r !== null && saysSomething(r),
      )
    : [];
  const lines =
    by.most === null || tally.scored === 0
      ? []
      : tally.lines
          .filter((l) => (l.question.most ?? 0) > 0)
          .map((l) => ({
            id: l.question.id,
            label: l.question.label,
            name: l.question.name,
            points: l.points,
            most: l.question.most!,
          }));
  if (lines.length === 0 && rounds.length === 0 && by.scoring.scale.kind === 'points')
    return { scored: null, sum };
  const counts = sum.value !== null && !standing.typed;
  return {
    scored: {
      scale: by.scoring.scale,
      lines,
      rubric:
        by.rubric && rounds.length ? { name: by.rubric.name, criteria: by.rubric.rubric.criteria } : null,
      rounds,
      parts: counts ? [...sum.parts] : [],
      late: counts && sum.late && sum.late.off > 0 ? { days: sum.late.days, off: sum.late.off } : null,
    },
    sum,
  };
}
