import * as z from 'zod';
import { DocumentId, MarkId } from '../ids/id.ts';
import { listOf } from '../versions/list.ts';

const Ms = z.int().min(0).max(3_600_000);
/** Most marks that one recording is tied to. */
export const MOST_TIED = 2000;

/** What was done on the pages while somebody talked, in ms from the recording's beginning. */
export const Talk = z.object({
  /** Which mark was made from when to when. */
  made: listOf(z.object({ mark: MarkId, from: Ms, to: Ms }), MOST_TIED),
  /** Which page came into view when. */
  seen: listOf(z.object({ at: Ms, document: DocumentId, page: z.int().min(0).max(499) }), MOST_TIED),
});
export type Talk = z.infer<typeof Talk>;
