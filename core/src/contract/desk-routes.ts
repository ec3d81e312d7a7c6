import * as z from 'zod';
import { AssignmentId, CopyId, HandInId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { Trays } from '../pens/trays.ts';
import { Bytes, route } from './route.ts';
import { DocumentState } from './shapes.ts';

/** What a PDF that was marked elsewhere holds for a copy. Nothing is changed by reading it: the desk puts the marks there. */
export const BroughtIn = z.object({
  marks: z.array(Mark),
  /** Kinds of annotations that are no marks of ours, with how many there are. */
  unknown: z.array(z.object({ kind: z.string(), count: z.int() })),
  /** Marks on pages that this copy does not have. */
  offPage: z.int(),
});
export type BroughtIn = z.infer<typeof BroughtIn>;

/** The same, and whose copy the file was found to be; null: it must be chosen by hand. */
export const BroughtInAny = BroughtIn.extend({
  to: z.object({ copyId: CopyId, handInId: HandInId, name: z.string() }).nullable(),
});
export type BroughtInAny = z.infer<typeof BroughtInAny>;

/** What can lie beside a copy while it is marked. */
export const BesideDesk = z.object({
  /** Hand-ins before this one, newest first, with what was handed back on them. */
  earlier: z.array(
    z.object({
      number: z.int(),
      handedInAt: z.int(),
      documents: z.array(DocumentState),
      marks: z.array(Mark),
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
    reply: Trays,
  }),
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
    'GET',
    '/api/hand-ins/:handInId/pdf',
    'teacher',
    'The copy as it is marked now, as a PDF',
    {
      params: z.object({ handInId: HandInId }),
      /** With annotations of the standard, or flat for printing. */
      query: z.object({ as: z.enum(['notes', 'flat']) }),
      reply: Bytes,
      sends: 'bytes',
    },
  ),
  bringInAny: route(
    'POST',
    '/api/assignments/:assignmentId/marked-file',
    'teacher',
    'Reads a PDF that was marked elsewhere and finds whose copy it is',
    { params: z.object({ assignmentId: AssignmentId }), reply: BroughtInAny, takes: 'file' },
  ),
  bringIn: route(
    'POST',
    '/api/hand-ins/:handInId/marked-file',
    'teacher',
    'Reads a PDF that was marked elsewhere: what marks it holds for this copy',
    { params: z.object({ handInId: HandInId }), reply: BroughtIn, takes: 'file' },
  ),
} as const;
