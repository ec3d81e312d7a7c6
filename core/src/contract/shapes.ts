import * as z from 'zod';
import { Change, SlipValues } from '../changes/change.ts';
import { Place } from '../copy/place.ts';
import { PageFrame } from '../geometry/page-space.ts';
import { Snapshot, Turns } from '../handback/snapshot.ts';
import {
  AssignmentId,
  ChangeId,
  CopyId,
  DocumentId,
  HandBackId,
  HandInId,
  JobId,
  MarkId,
  PersonId,
} from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';

/** Moments are milliseconds of Unix time. */
export const Moment = z.int().min(0);

export const Role = z.enum(['teacher', 'student']);
export type Role = z.infer<typeof Role>;

export const Person = z.object({
  id: PersonId,
  role: Role,
  given: z.string(),
  family: z.string(),
  login: z.string(),
});
export type Person = z.infer<typeof Person>;

export const DemoPerson = z.object({
  name: z.string(),
  about: z.string(),
  login: z.string(),
  password: z.string(),
  role: Role,
});

export const Session = z.object({
  person: Person.nullable(),
  /** Goes back in the header `x-jotmark-token` with everything that changes something. */
  token: z.string(),
  school: z.object({ name: z.string(), timeZone: z.string() }),
  demo: z.array(DemoPerson).nullable(),
});
export type Session = z.infer<typeof Session>;

/** How far the job is that reads a document's pages or writes a file. */
export const Progress = z.object({
  state: z.enum(['queued', 'running', 'done', 'failed']),
  done: z.int(),
  total: z.int(),
  error: z.string().nullable(),
});
export type Progress = z.infer<typeof Progress>;

export const DocumentState = z.object({
  id: DocumentId,
  name: z.string(),
  bytes: z.int(),
  pages: z.int(),
  reading: Progress,
});
export type DocumentState = z.infer<typeof DocumentState>;

export const DocumentPages = z.object({ state: DocumentState, frames: z.array(PageFrame), turns: Turns });
export type DocumentPages = z.infer<typeof DocumentPages>;

export const AssignmentHead = z.object({
  id: AssignmentId,
  title: z.string(),
  className: z.string(),
  dueAt: Moment.nullable(),
  /** Most points in hundredths; null: ungraded. */
  most: z.int().nullable(),
});
export type AssignmentHead = z.infer<typeof AssignmentHead>;

export const PileRow = z.object({
  copyId: CopyId,
  student: z.object({ given: z.string(), family: z.string() }),
  place: Place,
  handedInAt: Moment.nullable(),
  /** Milliseconds late; 0 in time. */
  late: z.int(),
  overdue: z.boolean(),
  handInNumber: z.int(),
  grade: z.int().nullable(),
  pages: z.int().nullable(),
  reading: Progress.nullable(),
});
export type PileRow = z.infer<typeof PileRow>;

export const Pile = z.object({ assignment: AssignmentHead, rows: z.array(PileRow) });
export type Pile = z.infer<typeof Pile>;

export const TodayPile = z.object({
  assignment: AssignmentHead,
  counts: z.record(Place, z.int()),
  overdue: z.int(),
  /** The first copy to go on with: half marked before untouched. */
  next: z.object({ copyId: CopyId, name: z.string(), begun: z.boolean() }).nullable(),
  oldestWaiting: Moment.nullable(),
  /** Seconds a copy that this teacher took so far, median; null before there are three. */
  pace: z.int().nullable(),
});
export type TodayPile = z.infer<typeof TodayPile>;

export const VersionedMark = z.object({ id: MarkId, version: ChangeId, mark: Mark.nullable() });
const versioned = <T extends z.ZodType>(value: T) => z.object({ value, version: ChangeId.nullable() });
export const SlipShape = z.object({
  grade: versioned(SlipValues.grade),
  closing: versioned(SlipValues.closing),
  done: versioned(SlipValues.done),
});

export const MarkingState = z.object({ seq: z.int(), marks: z.array(VersionedMark), slip: SlipShape });
export type MarkingState = z.infer<typeof MarkingState>;

export const Desk = z.object({
  copyId: CopyId,
  assignment: AssignmentHead,
  student: z.object({ given: z.string(), family: z.string() }),
  handIn: z.object({ id: HandInId, number: z.int(), handedInAt: Moment, late: z.int() }),
  /** Whether this hand-in was handed back: then its marking is read only. */
  handedBack: z.boolean(),
  documents: z.array(DocumentState),
  marking: MarkingState,
});
export type Desk = z.infer<typeof Desk>;

/** Most changes in one batch, so that a day without network comes in bites. */
export const BATCH_LIMIT = 200;

export const ChangeBatch = z.object({ changes: z.array(Change).min(1).max(BATCH_LIMIT) });

export const BatchAnswer = z.object({
  seq: z.int(),
  results: z.array(
    z.object({
      id: ChangeId,
      outcome: z.enum(['applied', 'already', 'conflict', 'refused']),
      /** Of a refused change: why. */
      reason: z.enum(['above-most', 'ungraded', 'handed-back', 'no-such-page']).nullable(),
      seq: z.int().nullable(),
    }),
  ),
  /** What stands at the subjects in conflict now. */
  current: z.object({ marks: z.array(VersionedMark), slip: SlipShape }).nullable(),
});
export type BatchAnswer = z.infer<typeof BatchAnswer>;

export const ChangesSince = z.object({ seq: z.int(), changes: z.array(Change) });

export const WorkRow = z.object({
  copyId: CopyId,
  assignment: AssignmentHead,
  place: Place,
  late: z.int(),
  overdue: z.boolean(),
  handedInAt: Moment.nullable(),
  handedBackAt: Moment.nullable(),
});
export type WorkRow = z.infer<typeof WorkRow>;

export const HandBackShape = z.object({
  id: HandBackId,
  handInNumber: z.int(),
  handedBackAt: Moment,
  snapshot: Snapshot,
  documents: z.array(DocumentState),
});
export type HandBackShape = z.infer<typeof HandBackShape>;

export const Work = z.object({
  row: WorkRow,
  /** What the teacher wrote when setting it; plain words. */
  instructions: z.string(),
  student: z.object({ given: z.string(), family: z.string() }),
  /** The file that lies ready and was not handed in yet. */
  ready: DocumentState.nullable(),
  handIn: z
    .object({ id: HandInId, number: z.int(), handedInAt: Moment, documents: z.array(DocumentState) })
    .nullable(),
  handBack: HandBackShape.nullable(),
});
export type Work = z.infer<typeof Work>;

export const PdfJob = z.object({ jobId: JobId, progress: Progress });
