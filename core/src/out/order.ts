import * as z from 'zod';
import { AssignmentId, ClassId, CopyId, HandInId, PersonId } from '../ids/id.ts';
import { TermName } from '../log/report.ts';
import { LogPart } from '../log/sheet.ts';
import { listOf } from '../versions/list.ts';

export const SheetKind = z.enum(['csv', 'xlsx', 'ods']);
export type SheetKind = z.infer<typeof SheetKind>;

/** So many copies go out in one file at most. */
export const MOST_COPIES_OUT = 2000;
const some = listOf(CopyId, MOST_COPIES_OUT, 1).nullable();

/** Something that a teacher takes out of Jotmark, as a file. */
export const OutOrder = z.discriminatedUnion('what', [
  z.object({ what: z.literal('mark-book'), classId: ClassId, as: SheetKind }),
  z.object({ what: z.literal('logs'), classId: ClassId, as: SheetKind }),
  z.object({ what: z.literal('log'), classId: ClassId, personId: PersonId, as: SheetKind }),
  /** A log on paper; `term` names the report that goes with it, empty: none. */
  z.object({
    what: z.literal('log-sheet'),
    classId: ClassId,
    personId: PersonId,
    parts: z.array(LogPart).min(1),
    term: z.union([TermName, z.literal('')]),
  }),
  /** The reports of a term, of the whole class. */
  z.object({
    what: z.literal('reports'),
    classId: ClassId,
    term: TermName,
    as: z.enum(['pdf', 'csv', 'xlsx', 'ods']),
  }),
  z.object({ what: z.literal('scores'), assignmentId: AssignmentId, as: SheetKind }),
  /** Copies of a pile; null: all that came in. As PDFs in folders, or as one file to print. */
  z.object({
    what: z.literal('pile'),
    assignmentId: AssignmentId,
    copyIds: some,
    as: z.enum(['zip', 'print', 'print-unmarked', 'print-beside']),
  }),
  /** All that came in and went back in a class, in folders. */
  z.object({ what: z.literal('class'), classId: ClassId }),
  /** Register, class and grades in the form that schools exchange (OneRoster 1.2). */
  z.object({ what: z.literal('roster'), classId: ClassId }),
  /** One hand-in: with its cover sheet and all marks, or to print. */
  z.object({
    what: z.literal('copy'),
    handInId: HandInId,
    as: z.enum(['pdf', 'print', 'print-beside', 'print-unmarked']),
  }),
  /** The marks of a hand-in in forms that other programs read. */
  z.object({ what: z.literal('marks'), handInId: HandInId, as: z.enum(['xfdf', 'jsonld']) }),
  /** A class's whole record, to be read into another Jotmark. */
  z.object({ what: z.literal('archive'), classId: ClassId }),
  /** All that there is of one student in a class, to be given out. */
  z.object({ what: z.literal('student'), classId: ClassId, personId: PersonId }),
]);
export type OutOrder = z.infer<typeof OutOrder>;
