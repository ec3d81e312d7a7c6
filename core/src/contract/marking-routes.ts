import * as z from 'zod';
import { Turns } from '../handback/snapshot.ts';
import { AssignmentId, CopyId, DocumentId, HandBackId, HandInId } from '../ids/id.ts';
import { PageText } from '../passage/text-layer.ts';
import { listOf } from '../versions/list.ts';
import { StepCode } from './account-routes.ts';
import { BatchAnswer, ChangeBatch, ChangesSince } from './batch.ts';
import { Bytes, route } from './route.ts';
import { Desk, DocumentPages, DocumentState, Moment, Ordered, Pile, Session, TodayPile } from './shapes.ts';

/** A thousand ids and what stands round them. */
const IDS = 64 * 1024;
/** A batch of changes, some of them long strokes; what is larger is sent in smaller batches. */
export const CHANGES_LIMIT = 2 * 1024 * 1024;

/** Signing in, marking and handing back, and what a student does with their copy. */
export const markingRoutes = {
  health: route('GET', '/api/health', 'anyone', 'Whether server and database answer'),
  openapi: route('GET', '/api/openapi.json', 'anyone', 'This description', {
    reply: z.record(z.string(), z.unknown()),
  }),

  session: route('GET', '/api/session', 'anyone', 'Who is signed in, and the token for changes', {
    reply: Session,
  }),
  signIn: route('POST', '/api/sign-in', 'anyone', 'Sign in with login and password', {
    body: z.object({
      login: z.string().min(1).max(100),
      password: z.string().min(1).max(200),
      /** Of the second step, where there is one. */
      code: StepCode.optional(),
    }),
    reply: Session,
  }),
  signOut: route('POST', '/api/sign-out', 'person', 'Sign out'),

  today: route('GET', '/api/today', 'teacher', 'All piles, in the order to do them', {
    reply: z.array(TodayPile),
  }),
  pile: route('GET', '/api/piles/:assignmentId', 'teacher', 'All copies of one assignment', {
    params: z.object({ assignmentId: AssignmentId }),
    reply: Pile,
  }),
  setBlind: route(
    'POST',
    '/api/piles/:assignmentId/blind',
    'teacher',
    'Hide the names of a pile, or show them again',
    {
      params: z.object({ assignmentId: AssignmentId }),
      body: z.object({ blind: z.boolean() }),
    },
  ),
  pileTerms: route(
    'POST',
    '/api/piles/:assignmentId/terms',
    'teacher',
    'Excuse many, or give many another date',
    {
      params: z.object({ assignmentId: AssignmentId }),
      body: z.object({
        copyIds: listOf(CopyId, 1000, 1),
        /** What is not named stays as it is. */
        excused: z.boolean().optional(),
        dueAt: Moment.nullable().optional(),
      }),
      limit: IDS,
    },
  ),
  zipOriginals: route(
    'POST',
    '/api/piles/:assignmentId/zip',
    'teacher',
    'Put the originals of many copies into one zip',
    {
      params: z.object({ assignmentId: AssignmentId }),
      body: z.object({ copyIds: listOf(CopyId, 1000, 1) }),
      limit: IDS,
      reply: Ordered,
    },
  ),
  documentPicture: route(
    'GET',
    '/api/documents/:documentId/picture',
    'person',
    'A small picture of the first page',
    {
      params: z.object({ documentId: DocumentId }),
      reply: Bytes,
      sends: 'bytes',
    },
  ),
  desk: route('GET', '/api/desk/:copyId', 'teacher', 'One copy to mark: newest hand-in and its marking', {
    params: z.object({ copyId: CopyId }),
    reply: Desk,
  }),
  sendChanges: route(
    'POST',
    '/api/hand-ins/:handInId/changes',
    'teacher',
    'Changes to a marking, in order; each counts once',
    {
      params: z.object({ handInId: HandInId }),
      body: ChangeBatch,
      limit: CHANGES_LIMIT,
      reply: BatchAnswer,
    },
  ),
  changesSince: route('GET', '/api/hand-ins/:handInId/changes', 'teacher', 'Changes after sequence n', {
    params: z.object({ handInId: HandInId }),
    query: z.object({ after: z.coerce.number().int().min(0) }),
    reply: ChangesSince,
  }),
  leaveAt: route('PUT', '/api/hand-ins/:handInId/left-at', 'teacher', 'The page that is being marked', {
    params: z.object({ handInId: HandInId }),
    body: z.object({ page: z.int().min(0).max(9999) }),
    /** Not kept as long as nothing is marked. */
    reply: z.object({ kept: z.boolean() }),
  }),
  turnPages: route('PUT', '/api/documents/:documentId/turns', 'teacher', 'How pages are turned for reading', {
    params: z.object({ documentId: DocumentId }),
    body: z.object({ turns: Turns }),
  }),

  documentPages: route(
    'GET',
    '/api/documents/:documentId',
    'person',
    'Pages of a document and how far their reading is',
    {
      params: z.object({ documentId: DocumentId }),
      reply: DocumentPages,
    },
  ),
  documentText: route('GET', '/api/documents/:documentId/text', 'person', 'The text layer of all pages', {
    params: z.object({ documentId: DocumentId }),
    reply: z.array(PageText),
  }),
  documentAgain: route('POST', '/api/documents/:documentId/again', 'person', 'Try to read it again', {
    params: z.object({ documentId: DocumentId }),
    reply: DocumentState,
  }),
  documentFile: route('GET', '/api/documents/:documentId/file', 'person', 'The pages as PDF, by range', {
    params: z.object({ documentId: DocumentId }),
    reply: Bytes,
    sends: 'bytes',
  }),
  documentOriginal: route(
    'GET',
    '/api/documents/:documentId/original',
    'person',
    'The file as it came, by range; sound, film and pictures can be shown in a page',
    { params: z.object({ documentId: DocumentId }), reply: Bytes, sends: 'bytes' },
  ),

  documentLink: route(
    'GET',
    '/api/documents/:documentId/link',
    'person',
    'Leads on to where a link that was handed in leads: of a copy that is marked blind no address is told before it is followed',
    { params: z.object({ documentId: DocumentId }), reply: Bytes, sends: 'bytes' },
  ),

  makePdf: route('POST', '/api/hand-backs/:handBackId/pdf', 'student', 'Make the marked copy as one PDF', {
    params: z.object({ handBackId: HandBackId }),
    reply: Ordered,
  }),
  pdfFile: route('GET', '/api/hand-backs/:handBackId/pdf', 'student', 'The finished PDF', {
    params: z.object({ handBackId: HandBackId }),
    reply: Bytes,
    sends: 'bytes',
  }),
} as const;
