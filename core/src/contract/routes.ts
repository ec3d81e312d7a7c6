import * as z from 'zod';
import { Turns } from '../handback/snapshot.ts';
import { AssignmentId, CopyId, DocumentId, HandBackId, HandInId } from '../ids/id.ts';
import { PageText } from '../passage/text-layer.ts';
import {
  BatchAnswer,
  ChangeBatch,
  ChangesSince,
  Desk,
  DocumentPages,
  DocumentState,
  PdfJob,
  Pile,
  Session,
  TodayPile,
  Work,
  WorkRow,
} from './shapes.ts';

/** Who may call a route at all; whether they may see this very thing is decided behind it. */
export type Who = 'anyone' | 'person' | 'teacher' | 'student';

export interface Route<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
> {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
  readonly who: Who;
  readonly summary: string;
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  readonly reply: R;
  /** 'json' unless the route sends or takes bytes. */
  readonly sends: 'json' | 'bytes';
  readonly takes: 'json' | 'file';
}

const Nothing = z.object({});
const Ok = z.object({ ok: z.literal(true) });
const Bytes = z.unknown();

function route<
  P extends z.ZodType = typeof Nothing,
  Q extends z.ZodType = typeof Nothing,
  B extends z.ZodType = typeof Nothing,
  R extends z.ZodType = typeof Ok,
>(
  method: Route['method'],
  path: string,
  who: Who,
  summary: string,
  shape: { params?: P; query?: Q; body?: B; reply?: R; sends?: 'bytes'; takes?: 'file' } = {},
): Route<P, Q, B, R> {
  return {
    method,
    path,
    who,
    summary,
    params: shape.params ?? (Nothing as unknown as P),
    query: shape.query ?? (Nothing as unknown as Q),
    body: shape.body ?? (Nothing as unknown as B),
    reply: shape.reply ?? (Ok as unknown as R),
    sends: shape.sends ?? 'json',
    takes: shape.takes ?? 'json',
  };
}

/** The HTTP contract: the server mounts exactly these, the web calls exactly these, `/api/openapi.json` describes these. */
export const routes = {
  health: route('GET', '/api/health', 'anyone', 'Whether server and database answer'),
  openapi: route('GET', '/api/openapi.json', 'anyone', 'This description', {
    reply: z.record(z.string(), z.unknown()),
  }),

  session: route('GET', '/api/session', 'anyone', 'Who is signed in, and the token for changes', {
    reply: Session,
  }),
  signIn: route('POST', '/api/sign-in', 'anyone', 'Sign in with login and password', {
    body: z.object({ login: z.string().min(1).max(100), password: z.string().min(1).max(200) }),
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
  handBack: route(
    'POST',
    '/api/piles/:assignmentId/hand-back',
    'teacher',
    'Hand marked copies back, all at once',
    {
      params: z.object({ assignmentId: AssignmentId }),
      body: z.object({ copyIds: z.array(CopyId).min(1).max(1000) }),
      reply: z.object({ handedBack: z.array(CopyId), kept: z.array(CopyId) }),
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
      reply: BatchAnswer,
    },
  ),
  changesSince: route('GET', '/api/hand-ins/:handInId/changes', 'teacher', 'Changes after sequence n', {
    params: z.object({ handInId: HandInId }),
    query: z.object({ after: z.coerce.number().int().min(0) }),
    reply: ChangesSince,
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
  documentFile: route('GET', '/api/documents/:documentId/file', 'person', 'The bytes, by range', {
    params: z.object({ documentId: DocumentId }),
    reply: Bytes,
    sends: 'bytes',
  }),

  workList: route('GET', '/api/work', 'student', 'My work, in the order it is due', {
    reply: z.array(WorkRow),
  }),
  work: route('GET', '/api/work/:copyId', 'student', 'One copy of mine', {
    params: z.object({ copyId: CopyId }),
    reply: Work,
  }),
  addFile: route('POST', '/api/work/:copyId/file', 'student', 'Lay a PDF ready for handing in', {
    params: z.object({ copyId: CopyId }),
    reply: DocumentState,
    takes: 'file',
  }),
  removeFile: route('DELETE', '/api/work/:copyId/file', 'student', 'Take the file away again', {
    params: z.object({ copyId: CopyId }),
  }),
  handIn: route('POST', '/api/work/:copyId/hand-in', 'student', 'Hand in what lies ready', {
    params: z.object({ copyId: CopyId }),
    body: z.object({ documentId: DocumentId }),
    reply: Work,
  }),
  makePdf: route('POST', '/api/hand-backs/:handBackId/pdf', 'student', 'Make the marked copy as one PDF', {
    params: z.object({ handBackId: HandBackId }),
    reply: PdfJob,
  }),
  pdfFile: route('GET', '/api/hand-backs/:handBackId/pdf', 'student', 'The finished PDF', {
    params: z.object({ handBackId: HandBackId }),
    reply: Bytes,
    sends: 'bytes',
  }),
} as const;

export type Routes = typeof routes;
export type RouteName = keyof Routes;
export type ParamsOf<R extends Route> = z.infer<R['params']>;
export type QueryOf<R extends Route> = z.infer<R['query']>;
export type BodyOf<R extends Route> = z.infer<R['body']>;
export type ReplyOf<R extends Route> = z.infer<R['reply']>;
