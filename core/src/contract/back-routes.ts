import * as z from 'zod';
import { HandBackHow, PLAIN_HAND_BACK } from '../handback/how.ts';
import { AssignmentId, CopyId, HandBackId, HandBackOrderId, MarkId } from '../ids/id.ts';
import { listOf } from '../versions/list.ts';
import { route } from './route.ts';
import { HandBackShape, Moment } from './shapes.ts';

/** A thousand ids and what stands round them. */
const IDS = 64 * 1024;
const pile = z.object({ assignmentId: AssignmentId });
const copies = { copyIds: listOf(CopyId, 1000, 1) };

/** What a teacher may want to look at before a copy goes back. */
export const BackWarning = z.enum([
  'unmarked',
  'no-grade',
  'does-not-add-up',
  'questions-open',
  'typed-over',
  'no-closing-words',
  'unread-message',
]);
export type BackWarning = z.infer<typeof BackWarning>;

/** Handing back, before and after. */
export const backRoutes = {
  handBack: route(
    'POST',
    '/api/piles/:assignmentId/hand-back',
    'teacher',
    'Hand copies back, all at once: now, or at a set time, until then it can be undone',
    {
      params: pile,
      body: z.object({
        ...copies,
        how: HandBackHow.default(PLAIN_HAND_BACK),
        /** When; null: now. */
        at: Moment.nullable().default(null),
      }),
      limit: IDS,
      reply: z.object({
        handedBack: z.array(CopyId),
        kept: z.array(CopyId),
        /** Where it waits for its time. */
        order: HandBackOrderId.nullable(),
      }),
    },
  ),
  handBackSoon: route(
    'POST',
    '/api/piles/:assignmentId/hand-back-soon',
    'teacher',
    'Hand one copy back in ten seconds: until then it can be undone, and nobody has seen anything',
    {
      params: pile,
      body: z.object({ copyId: CopyId }),
      reply: z.object({ order: HandBackOrderId, at: Moment }),
    },
  ),
  undoHandBack: route(
    'DELETE',
    '/api/hand-back-orders/:orderId',
    'teacher',
    'Do not hand back at the set time; nothing has gone yet',
    { params: z.object({ orderId: HandBackOrderId }) },
  ),
  checkHandBack: route(
    'POST',
    '/api/piles/:assignmentId/hand-back-check',
    'teacher',
    'What one may want to look at before these copies go back',
    {
      params: pile,
      body: z.object(copies),
      limit: IDS,
      reply: z.array(z.object({ copyId: CopyId, warnings: z.array(BackWarning) })),
    },
  ),
  asStudent: route(
    'POST',
    '/api/desk/:copyId/as-student',
    'teacher',
    'A copy as its student would get it now',
    {
      params: z.object({ copyId: CopyId }),
      body: z.object({ how: HandBackHow }),
      reply: HandBackShape,
    },
  ),
  handBackAsItWent: route(
    'GET',
    '/api/hand-backs/:handBackId',
    'person',
    'A hand-back as it was frozen: an earlier one too',
    { params: z.object({ handBackId: HandBackId }), reply: HandBackShape },
  ),
  recall: route(
    'POST',
    '/api/piles/:assignmentId/recall',
    'teacher',
    'Take hand-backs back in, unseen again; what was seen of them stays on record',
    {
      params: pile,
      body: z.object({ ...copies, tell: z.boolean(), words: z.string().trim().max(1000) }),
      limit: IDS,
      reply: z.object({ recalled: z.array(CopyId), kept: z.array(CopyId) }),
    },
  ),
  changeAgain: route(
    'POST',
    '/api/desk/:copyId/change-again',
    'teacher',
    'Mark on after handing back: the student keeps what they have until it goes back again',
    { params: z.object({ copyId: CopyId }) },
  ),
  opened: route(
    'POST',
    '/api/hand-backs/:handBackId/opened',
    'student',
    'These notes were opened; without any: the copy itself was',
    {
      params: z.object({ handBackId: HandBackId }),
      body: z.object({ marks: listOf(MarkId, 2000) }),
      limit: 128 * 1024,
      /** How many must still be opened before the grade shows. */
      reply: z.object({ closed: z.int() }),
    },
  ),
} as const;
