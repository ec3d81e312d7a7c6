import * as z from 'zod';
import { CriterionId, LevelId, QuestionId } from '../ids/id.ts';
import { MAX_POINTS } from '../points/points.ts';
import { listOf } from '../versions/list.ts';

/** One scoring with the rubric. Midway is scored while a copy is still being worked on, final is what the grade comes from. */
export const Round = z.enum(['midway', 'final']);
export type Round = z.infer<typeof Round>;

/** What a score is of: a question, or a criterion in a round. */
export type ScoreOf = `question:${QuestionId}` | `${Round}:${CriterionId}`;
export const ScoreOf = z
  .string()
  .regex(
    /^(question|midway|final):[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/,
  ) as unknown as z.ZodType<ScoreOf>;

export const scoreOfQuestion = (id: QuestionId): ScoreOf => `question:${id}`;
export const scoreOfCriterion = (round: Round, id: CriterionId): ScoreOf => `${round}:${id}`;

/** What a score is of, taken apart. */
export function whatIsScored(
  of: ScoreOf,
): { readonly question: QuestionId } | { readonly round: Round; readonly criterion: CriterionId } {
  const at = of.indexOf(':');
  const id = of.slice(at + 1);
  const head = of.slice(0, at);
  return head === 'question'
    ? { question: QuestionId.parse(id) }
    : { round: Round.parse(head), criterion: CriterionId.parse(id) };
}

/** Where somebody stands at a criterion. Between two levels both descriptors are part of what is said. Not shown is not zero. */
export const StandsAt = z.discriminatedUnion('is', [
  z.object({ is: z.literal('level'), level: LevelId }),
  z.object({ is: z.literal('between'), lower: LevelId, upper: LevelId }),
  z.object({ is: z.literal('not-shown') }),
]);
export type StandsAt = z.infer<typeof StandsAt>;

/** Words of a descriptor that were marked: this much of it is there. Letters from `from` up to `to`. */
export const Had = z
  .object({ level: LevelId, from: z.int().min(0).max(4000), to: z.int().min(1).max(4000) })
  .refine((h) => h.from < h.to, 'from before to');
export type Had = z.infer<typeof Had>;

/** Points that were typed for a question, in place of those on its pages. */
export const QuestionScore = z.object({
  of: z.literal('question'),
  points: z.int().min(0).max(MAX_POINTS),
});
export const CriterionScore = z.object({
  of: z.literal('criterion'),
  /** Null: only words so far. */
  stands: StandsAt.nullable(),
  words: z.string().max(2000),
  had: listOf(Had, 100),
  /** When it was scored, in ms of Unix time by the clock of the device. */
  at: z.int().min(0),
});
export const Score = z.discriminatedUnion('of', [QuestionScore, CriterionScore]);
export type QuestionScore = z.infer<typeof QuestionScore>;
export type CriterionScore = z.infer<typeof CriterionScore>;
export type Score = z.infer<typeof Score>;

/** Whether a score is one for what it is said to be of. */
export const fitsScore = (of: ScoreOf, score: Score | null): boolean =>
  score === null || (score.of === 'question') === of.startsWith('question:');

/** The scores of a marking, as they stand. */
export type Scores = ReadonlyMap<ScoreOf, Score>;

/** What is scored of a question by typing; null: nothing. */
export function typedPoints(scores: Scores, id: QuestionId): number | null {
  const score = scores.get(scoreOfQuestion(id));
  return score?.of === 'question' ? score.points : null;
}

/** How somebody stands at a criterion in a round; null: nobody has scored it. */
export function criterionScore(scores: Scores, round: Round, id: CriterionId): CriterionScore | null {
  const score = scores.get(scoreOfCriterion(round, id));
  return score?.of === 'criterion' ? score : null;
}
