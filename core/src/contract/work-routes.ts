import * as z from 'zod';
import { CopyId, DocumentId, HandInId, MessageId } from '../ids/id.ts';
import { WebAddress } from '../rich/rich-text.ts';
import { CopyBatch, CopyBatchAnswer, CopyChangesSince } from './batch.ts';
import { CHANGES_LIMIT } from './marking-routes.ts';
import { MESSAGE_LIMIT, MessageAct, MessagePlace } from './message.ts';
import { route } from './route.ts';
import { ConversationShape, DocumentState, Moment, Ordered, UnreadLine, Work, WorkRow } from './shapes.ts';

const copy = z.object({ copyId: CopyId });

/** What a student does with a copy, and the conversation on it. */
export const workRoutes = {
  workList: route('GET', '/api/work', 'student', 'My work, in the order it is due', {
    reply: z.array(WorkRow),
  }),
  work: route('GET', '/api/work/:copyId', 'student', 'One copy of mine', { params: copy, reply: Work }),
  sendCopyChanges: route(
    'POST',
    '/api/work/:copyId/changes',
    'student',
    'Answers and drawing, in order; each change counts once',
    { params: copy, body: CopyBatch, limit: CHANGES_LIMIT, reply: CopyBatchAnswer },
  ),
  copyChangesSince: route('GET', '/api/work/:copyId/changes', 'student', 'What changed after sequence n', {
    params: copy,
    query: z.object({ after: z.coerce.number().int().min(0) }),
    reply: CopyChangesSince,
  }),
  addFile: route('POST', '/api/work/:copyId/files', 'student', 'Lay a file on the copy', {
    params: copy,
    reply: Ordered,
    takes: 'file',
  }),
  addTextPicture: route(
    'POST',
    '/api/work/:copyId/pictures',
    'student',
    'A picture for a text that grows on the copy',
    { params: copy, reply: Ordered, takes: 'file' },
  ),
  addLink: route('POST', '/api/work/:copyId/links', 'student', 'Lay a link on the copy', {
    params: copy,
    body: z.object({ url: WebAddress, name: z.string().trim().max(200) }),
    reply: DocumentState,
  }),
  removeFile: route('DELETE', '/api/work/:copyId/files/:documentId', 'student', 'Take a file away again', {
    params: z.object({ copyId: CopyId, documentId: DocumentId }),
  }),
  orderFiles: route('PUT', '/api/work/:copyId/files', 'student', 'The order of the files', {
    params: copy,
    body: z.object({ order: z.array(DocumentId).max(100) }),
  }),
  handIn: route(
    'POST',
    '/api/work/:copyId/hand-in',
    'student',
    'Hand in the copy as it stands; the id is the client’s, so that sent twice counts once',
    {
      params: copy,
      body: z.object({
        id: HandInId,
        cover: z.string().trim().max(MESSAGE_LIMIT),
        /** The device's time, where there was no network to hand in at once. */
        claimedAt: Moment.nullable(),
      }),
      reply: Work,
    },
  ),
  takeBack: route(
    'POST',
    '/api/work/:copyId/take-back',
    'student',
    'Take a hand-in back to go on working, as long as its teacher’s rule lets one',
    {
      params: copy,
      reply: Work,
    },
  ),

  messages: route('GET', '/api/copies/:copyId/messages', 'person', 'The conversation on a copy', {
    params: copy,
    reply: ConversationShape,
  }),
  say: route('POST', '/api/copies/:copyId/messages', 'person', 'Say something on a copy', {
    params: copy,
    body: z
      .object({
        id: MessageId,
        words: z.string().trim().max(MESSAGE_LIMIT),
        place: MessagePlace.nullable().optional(),
        act: MessageAct.nullable().optional(),
      })
      .refine((said) => said.words !== '' || said.act || said.place?.instead, 'words'),
    reply: ConversationShape,
  }),
  editMessage: route(
    'PUT',
    '/api/copies/:copyId/messages/:messageId',
    'person',
    'Change the words of what one said',
    {
      params: z.object({ copyId: CopyId, messageId: MessageId }),
      body: z.object({ words: z.string().trim().min(1).max(MESSAGE_LIMIT) }),
      reply: ConversationShape,
    },
  ),
  withdrawMessage: route(
    'DELETE',
    '/api/copies/:copyId/messages/:messageId',
    'person',
    'Withdraw what one said: unread it vanishes, read it says that it was withdrawn',
    { params: z.object({ copyId: CopyId, messageId: MessageId }), reply: ConversationShape },
  ),
  readMessages: route(
    'POST',
    '/api/copies/:copyId/messages/read',
    'person',
    'All up to this moment was read',
    {
      params: copy,
      body: z.object({ at: Moment }),
    },
  ),
  unread: route('GET', '/api/messages', 'person', 'Conversations with something unread', {
    reply: z.array(UnreadLine),
  }),
} as const;
