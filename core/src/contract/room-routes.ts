import * as z from 'zod';
import { AnswerKeys } from '../alike/key.ts';
import { AssignmentId, CopyId, MessageId, QuestionId } from '../ids/id.ts';
import { RoomRow } from '../room/room.ts';
import { Trail } from '../trail/sittings.ts';
import { listOf } from '../versions/list.ts';
import { LongText } from '../writing/long-text.ts';
import { MESSAGE_LIMIT } from './message.ts';
import { Bytes, route } from './route.ts';
import { AssignmentHead, AssignmentStage, CopySheet, CopyState, DocumentState, Moment } from './shapes.ts';

const ofAssignment = z.object({ assignmentId: AssignmentId });
const ofCopy = z.object({ copyId: CopyId });

export const Room = z.object({
  assignment: AssignmentHead,
  stage: AssignmentStage,
  /** The server's time: silences are told by it, whatever the clock on the wall says. */
  now: Moment,
  sheets: z.array(CopySheet),
  /** What answers should be; for the teacher alone. */
  keys: AnswerKeys,
  rows: z.array(RoomRow),
});
export type Room = z.infer<typeof Room>;

/** One copy looked at closely while the student works on it. */
export const CloseLook = z.object({
  row: RoomRow,
  now: Moment,
  assignment: AssignmentHead,
  sheets: z.array(CopySheet),
  state: CopyState,
  /** Of texts that grow, how they read now. */
  written: z.array(z.object({ question: QuestionId, text: LongText })),
  files: z.array(DocumentState),
});
export type CloseLook = z.infer<typeof CloseLook>;

/** The class at work: the room, words at once, and how a copy came to be. */
export const roomRoutes = {
  room: route(
    'GET',
    '/api/assignments/:assignmentId/room',
    'teacher',
    'All copies while students work on them',
    {
      params: ofAssignment,
      /** Only these copies: those that a hint was about. */
      query: z.object({
        copies: z
          .string()
          .transform((text) => text.split(','))
          .pipe(z.array(CopyId).max(100))
          .optional(),
      }),
      reply: Room,
    },
  ),
  roomLive: route(
    'GET',
    '/api/assignments/:assignmentId/live',
    'teacher',
    'Hints of what changes, as they come',
    {
      params: ofAssignment,
      reply: Bytes,
      sends: 'bytes',
    },
  ),
  copyLive: route(
    'GET',
    '/api/work/:copyId/live',
    'student',
    'Hints about one’s own copy; as long as it is open one is here',
    {
      params: ofCopy,
      reply: Bytes,
      sends: 'bytes',
    },
  ),
  closeLook: route('GET', '/api/copies/:copyId/look', 'teacher', 'One copy closely, without disturbing', {
    params: ofCopy,
    reply: CloseLook,
  }),
  sayToMany: route(
    'POST',
    '/api/assignments/:assignmentId/words',
    'teacher',
    'The same words to many students',
    {
      params: ofAssignment,
      body: z.object({
        words: z.string().trim().min(1).max(MESSAGE_LIMIT),
        to: listOf(z.object({ id: MessageId, copyId: CopyId }), 1000, 1),
      }),
      limit: 160 * 1024,
    },
  ),
  trail: route(
    'GET',
    '/api/copies/:copyId/trail',
    'person',
    'How a copy came to be, for its student as for the teacher',
    {
      params: ofCopy,
      reply: z.object({
        student: z.string(),
        title: z.string(),
        sheets: z.array(CopySheet),
        trail: Trail,
        /** Of a copy that several wrote on: who they are; while it is marked blind they are numbered. */
        writers: z.array(z.string()),
      }),
    },
  ),
} as const;
