import * as z from 'zod';
import { AssignmentId, CopyId, HandBackId, HandInId, QuestionId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { Focuses, MOST_FOCUSES } from '../pens/focus.ts';
import { FocusName } from '../pens/ink-colour.ts';
import { Trays } from '../pens/trays.ts';
import { Digest } from '../versions/digest.ts';
import { listOf } from '../versions/list.ts';
import { Bytes, route } from './route.ts';
import { DocumentState, Ordered } from './shapes.ts';

/** What can lie beside a copy while it is marked. */
export const BesideDesk = z.object({
  /** Hand-ins before this one, newest first, with what was handed back on them. */
  earlier: z.array(
    z.object({
      number: z.int(),
      handedInAt: z.int(),
      documents: z.array(DocumentState),
      marks: z.array(Mark),
      /** As which hand-back its student has it; null: it did not go back. */
      handBackId: HandBackId.nullable(),
      /** What it went back with; null: without a grade, or not at all. */
      grade: z.int().nullable(),
      /** Questions whose answer is another in the hand-in after it. */
      changed: z.array(QuestionId),
    }),
  ),
  /** The clean worksheets and the material of the assignment, as far as they have pages. */
  materials: z.array(z.object({ worksheet: z.boolean(), document: DocumentState })),
});
export type BesideDesk = z.infer<typeof BesideDesk>;

/** What belongs to the teacher's desk and not to one marking: pens, and the line on which others' marks are heard of. */
export const deskRoutes = {
  trays: route(
    'GET',
    '/api/trays',
    'teacher',
    'One’s own pen trays; the starter trays as long as none were changed',
    {
      reply: Trays,
    },
  ),
  keepTrays: route('PUT', '/api/trays', 'teacher', 'Keeps all of one’s own pen trays as they are now', {
    body: Trays,
    limit: 1024 * 1024,
    reply: Trays,
  }),
  focuses: route('GET', '/api/focuses', 'teacher', 'One’s own focuses', { reply: Focuses }),
  keepFocuses: route(
    'PUT',
    '/api/focuses',
    'teacher',
    'Keeps one’s focuses as they are now; pens and phrases follow those that are called otherwise',
    {
      body: z.object({
        focuses: Focuses,
        /** Which are called otherwise, or have become one with another. */
        renamed: listOf(z.object({ from: FocusName, to: FocusName }), MOST_FOCUSES),
      }),
      reply: Focuses,
    },
  ),
  addHelpFile: route(
    'POST',
    '/api/help-files',
    'teacher',
    'A file to go beside words: it is seen by whom the words are for',
    {
      reply: Ordered,
      takes: 'file',
    },
  ),
  deskLive: route(
    'GET',
    '/api/hand-ins/:handInId/live',
    'teacher',
    'The number of the newest change to a marking, whenever it goes up',
    { params: z.object({ handInId: HandInId }), reply: Bytes, sends: 'bytes' },
  ),
  beside: route(
    'GET',
    '/api/desk/:copyId/beside',
    'teacher',
    'What can lie beside a copy: earlier hand-ins, clean worksheets, material',
    {
      params: z.object({ copyId: CopyId }),
      reply: BesideDesk,
    },
  ),
  markedPdf: route(
    'POST',
    '/api/hand-ins/:handInId/pdf',
    'teacher',
    'Make the copy as it is marked now one PDF',
    {
      params: z.object({ handInId: HandInId }),
      /** With annotations of the standard, or flat for printing. */
      body: z.object({ as: z.enum(['notes', 'flat']) }),
      reply: Ordered,
    },
  ),
  bringInAny: route(
    'POST',
    '/api/assignments/:assignmentId/marked-file',
    'teacher',
    'Read a PDF that was marked elsewhere and find whose copy it is',
    { params: z.object({ assignmentId: AssignmentId }), reply: Ordered, takes: 'file' },
  ),
  bringIn: route(
    'POST',
    '/api/hand-ins/:handInId/marked-file',
    'teacher',
    'Read a PDF that was marked elsewhere: what marks it holds for this copy',
    { params: z.object({ handInId: HandInId }), reply: Ordered, takes: 'file' },
  ),
  keepPicture: route(
    'POST',
    '/api/pictures',
    'teacher',
    'Keep bytes that marks will name: a small picture, or what another program made',
    {
      /** In base64: a PNG, or the PDF that what another program made came in. */
      body: z.object({
        base64: z
          .string()
          .regex(/^(iVBORw0KGgo|JVBERi)[A-Za-z0-9+/]+={0,2}$/)
          .max(400_000),
      }),
      limit: 420 * 1024,
      reply: z.object({ picture: Digest }),
    },
  ),
  picture: route('GET', '/api/pictures/:picture', 'person', 'A picture that a mark uses', {
    params: z.object({ picture: Digest }),
    reply: Bytes,
    sends: 'bytes',
  }),
} as const;
