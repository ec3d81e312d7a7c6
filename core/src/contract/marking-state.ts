import * as z from 'zod';
import { eachSlipField, SLIP, type SlipField, type SlipValue } from '../changes/slip.ts';
import { ChangeId, MarkId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { Score, ScoreOf } from '../scores/score.ts';

export const VersionedMark = z.object({ id: MarkId, version: ChangeId, mark: Mark.nullable() });
const versioned = <T extends z.ZodType>(value: T) => z.object({ value, version: ChangeId.nullable() });
export type SlipState = {
  [F in SlipField]: { value: SlipValue<F>; version: ChangeId | null };
};
export const SlipShape = z.object(
  eachSlipField((field) => versioned(SLIP[field].schema)),
) as unknown as z.ZodType<SlipState>;

/** Without a version it was scored before the hand-in came, and is what its marking starts from. */
export const VersionedScore = z.object({
  of: ScoreOf,
  version: ChangeId.nullable(),
  score: Score.nullable(),
});
export const MarkingState = z.object({
  seq: z.int(),
  marks: z.array(VersionedMark),
  scores: z.array(VersionedScore),
  slip: SlipShape,
});
export type MarkingState = z.infer<typeof MarkingState>;
