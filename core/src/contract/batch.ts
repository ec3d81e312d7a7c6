import * as z from 'zod';
import { CopyChange, MarkingChange } from '../changes/change.ts';
import { ChangeId } from '../ids/id.ts';
import { listOf } from '../versions/list.ts';
import { SlipShape, VersionedMark } from './marking-state.ts';

/** Most changes in one batch, so that a day without network comes in bites. */
export const BATCH_LIMIT = 200;

export const ChangeBatch = z.object({ changes: listOf(MarkingChange, BATCH_LIMIT, 1) });

const results = z.array(
  z.object({
    id: ChangeId,
    outcome: z.enum(['applied', 'already', 'conflict', 'refused']),
    /** Of a refused change: why. */
    reason: z
      .enum([
        'above-most',
        'ungraded',
        'handed-back',
        'no-such-page',
        'handed-in',
        'no-such-question',
        'text-full',
        'no-text',
        'not-yours',
        'no-such-picture',
        'no-such-voice',
      ])
      .nullable(),
    seq: z.int().nullable(),
  }),
);
export const BatchAnswer = z.object({
  seq: z.int(),
  results,
  /** What stands at the subjects in conflict now. */
  current: z.object({ marks: z.array(VersionedMark), slip: SlipShape }).nullable(),
});
export type BatchAnswer = z.infer<typeof BatchAnswer>;

export const ChangesSince = z.object({ seq: z.int(), changes: z.array(MarkingChange) });

export const CopyBatch = z.object({ changes: listOf(CopyChange, BATCH_LIMIT, 1) });
export const CopyBatchAnswer = z.object({ seq: z.int(), results });
export type CopyBatchAnswer = z.infer<typeof CopyBatchAnswer>;
export const CopyChangesSince = z.object({ seq: z.int(), changes: z.array(CopyChange) });
