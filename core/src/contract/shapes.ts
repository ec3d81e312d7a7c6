import * as z from 'zod';
import { TakingBack } from '../assignment/taking-back.ts';
import { AnswerText, TextUpdate } from '../changes/change.ts';
import { Place } from '../copy/place.ts';
import { PageFrame } from '../geometry/page-space.ts';
import { Scoring } from '../grade/scoring.ts';
import { HandBackHow } from '../handback/how.ts';
import { Snapshot, Turns } from '../handback/snapshot.ts';
import {
  AssignmentId,
  ChangeId,
  CopyId,
  DocumentId,
  HandBackId,
  HandBackOrderId,
  HandInId,
  JobId,
  MarkId,
  MaterialId,
  PersonId,
  QuestionId,
  VersionId,
} from '../ids/id.ts';
import { BoxSchema } from '../passage/text-layer.ts';
import { SeenName } from '../pile/blind.ts';
import { Questions } from '../questions/question.ts';
import { RichText } from '../rich/rich-text.ts';
import { Flow } from '../tally/asked.ts';
import { Digest } from '../versions/digest.ts';
import { OwnNote } from '../writing/own-notes.ts';
import { MarkingState, VersionedMark } from './marking-state.ts';
import { Message } from './message.ts';
import { AskedShape, CopyScoring, HungRubric } from './score-shapes.ts';

/** Moments are milliseconds of Unix time. */
export const Moment = z.int().min(0);

export const Role = z.enum(['teacher', 'student', 'administrator']);
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
  /** Signed in with a password that a teacher made: their own is chosen first of all. */
  firstPassword: z.boolean(),
  /** Who made it anew, and when, where it was not the first; null: it is the first. */
  reset: z.object({ by: z.string(), at: Moment }).nullable(),
  /** The school wants a second step of this person, who has none yet. */
  needsStep: z.boolean(),
  school: z.object({ name: z.string(), timeZone: z.string() }),
  demo: z.array(DemoPerson).nullable(),
  /** Whether there are stand-ins for devices that this machine lacks. */
  standIns: z.boolean(),
});
export type Session = z.infer<typeof Session>;

/** How far the job is that reads a document's pages or writes a file. */
export const Progress = z.object({
  state: z.enum(['queued', 'running', 'done', 'failed']),
  done: z.int(),
  total: z.int(),
  error: z.string().nullable(),
  /** How many others are before it; null: it is not waiting, or nobody counted. */
  ahead: z.int().nullable(),
});
export type Progress = z.infer<typeof Progress>;

/** What can be shown of a document: pages, something to hear or to watch, an address to follow, or nothing but its name. */
export const Shows = z.enum(['pages', 'sound', 'film', 'link', 'nothing']);
export type Shows = z.infer<typeof Shows>;

/** Why a file has no pages, or not all that should be on them; the sentences live in web. */
export const NoPages = z.enum([
  'unknown-kind',
  // Of files that came in before old office formats were read.
  'old-office',
  'password',
  'apple-photo',
  'not-converted',
  // It ends before its own list of contents.
  'cut-off',
  'too-many-pages',
  'too-slow',
  // It has pages, as far as the picture could be read.
  'part-missing',
  // LibreOffice may not be run here: it could not be kept from the network.
  'no-converter',
]);
export type NoPages = z.infer<typeof NoPages>;

export const DocumentState = z.object({
  id: DocumentId,
  name: z.string(),
  /** Media type of the original, told by its content. */
  type: z.string(),
  shows: Shows,
  trouble: NoPages.nullable(),
  /** Of a link. */
  url: z.string().nullable(),
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
  excused: z.boolean(),
  /** Words of the student that this teacher has not read. */
  unread: z.int(),
  /** The newest hand-in and what stands on its slip, so that a grade can be typed without opening the copy. */
  handInId: HandInId.nullable(),
  gradeVersion: ChangeId.nullable(),
  doneVersion: ChangeId.nullable(),
  /** The first document that has pages: its small picture is shown. */
  cover: DocumentId.nullable(),
  /** How many documents the newest hand-in has; 0: called done, with nothing to hand in. */
  documents: z.int(),
  student: SeenName,
  place: Place,
  handedInAt: Moment.nullable(),
  /** Milliseconds late; 0 in time. */
  late: z.int(),
  overdue: z.boolean(),
  handInNumber: z.int(),
  /** What is entered: typed, or else as computed. */
  grade: z.int().nullable(),
  typed: z.int().nullable(),
  computed: z.int().nullable(),
  pages: z.int().nullable(),
  reading: Progress.nullable(),
  /** What became of what went back of the newest hand-in; null: nothing did. */
  back: z
    .object({
      /** Which hand-back of that hand-in it is. */
      number: z.int(),
      at: Moment,
      /** Words went, and no grade: the marking goes on. */
      unfinished: z.boolean(),
      /** When its student first looked; null: not yet. */
      seenAt: Moment.nullable(),
      /** Notes with words or sound, how many of them were opened, and how many are done with. */
      notes: z.int(),
      opened: z.int(),
      done: z.int(),
      /** Recordings in it, and how many its student has listened to, or begun to. */
      recordings: z.int(),
      heard: z.int(),
    })
    .nullable(),
  /** Its student has had it open, or it was handed in. */
  opened: z.boolean(),
  /** When what had gone back of the newest hand-in was recalled; null: it was not, or something has gone back since. */
  recalledAt: Moment.nullable(),
});
export type PileRow = z.infer<typeof PileRow>;

/** What goes back at a set time. */
export const HandBackOrder = z.object({
  id: HandBackOrderId,
  at: Moment,
  copyIds: z.array(CopyId),
  how: HandBackHow,
  by: z.string(),
  /** It was tried at its time, over and over, and failed: nothing has gone back, and it is not tried again. */
  failed: z.boolean(),
});
export type HandBackOrder = z.infer<typeof HandBackOrder>;

export const AssignmentStage = z.enum(['draft', 'upcoming', 'open']);
export type AssignmentStage = z.infer<typeof AssignmentStage>;

export const Pile = z.object({
  assignment: AssignmentHead,
  stage: AssignmentStage,
  opensAt: Moment.nullable(),
  /** Names are hidden from those who mark, until the copies are handed back. */
  blind: z.boolean(),
  rows: z.array(PileRow),
  /** Copies of students who have left the class: kept, and no part of what is marked and handed back. */
  left: z.array(PileRow),
  scoring: Scoring,
  /** Whether a rubric hangs on it. */
  rubric: z.boolean(),
  /** Questions that are scored, in their order. */
  asked: z.array(AskedShape),
  /** What waits for the time it goes back at, the earliest first. */
  orders: z.array(HandBackOrder),
});
export type Pile = z.infer<typeof Pile>;

export const TodayPile = z.object({
  assignment: AssignmentHead,
  counts: z.record(Place, z.int()),
  overdue: z.int(),
  /** The first copy to go on with: half marked before untouched. */
  next: z
    .object({
      copyId: CopyId,
      name: z.string(),
      begun: z.boolean(),
      /** The page the teacher left it at, counted from 0 through all documents. */
      page: z.int(),
    })
    .nullable(),
  oldestWaiting: Moment.nullable(),
  /** Seconds a copy that this teacher took so far, median; null before there are three. */
  pace: z.int().nullable(),
});
export type TodayPile = z.infer<typeof TodayPile>;

export const ConversationShape = z.object({
  assignmentId: AssignmentId,
  title: z.string(),
  className: z.string(),
  student: z.string(),
  handedIn: z.boolean(),
  messages: z.array(Message),
});
export type ConversationShape = z.infer<typeof ConversationShape>;

export const UnreadLine = z.object({
  copyId: CopyId,
  title: z.string(),
  className: z.string(),
  /** Whom it is with: the student for a teacher, the writer for a student. */
  who: z.string(),
  count: z.int(),
  at: Moment,
  words: z.string(),
  /** Whether there is a hand-in to open at the desk. */
  handedIn: z.boolean(),
});
export type UnreadLine = z.infer<typeof UnreadLine>;

/** A worksheet that was filled in: what shows it in a hand-in, the pages it was filled in on, and its questions. */
export const FilledIn = z.object({
  document: DocumentId,
  from: DocumentId,
  questions: Questions,
  /** Pages that answers go on with, or stand on, besides their regions: the first of them and how many. */
  flows: z.array(Flow),
  /** What the student noted on their own copy. */
  notes: z.array(OwnNote),
});
export type FilledIn = z.infer<typeof FilledIn>;

/** How far a student has heard what was said, in ms from its beginning: as far as they ever were, and where they are. */
export const Heard = z.object({ file: Digest, reached: z.int(), left: z.int(), at: Moment });
export type Heard = z.infer<typeof Heard>;

export const Desk = z.object({
  copyId: CopyId,
  assignment: AssignmentHead,
  student: SeenName,
  handIn: z.object({
    id: HandInId,
    number: z.int(),
    handedInAt: Moment,
    late: z.int(),
    /** When the student's device says it was handed in, where it had no network; null: at once. */
    claimedAt: Moment.nullable(),
    /** Who handed it in for its student; null: they did it themselves. */
    by: z.string().nullable(),
  }),
  /** Whether this hand-in was handed back: then its marking is read only. */
  handedBack: z.boolean(),
  /** How often it went back, unfinished or to be changed: its student has that. */
  backs: z.int(),
  /** When it went back first; null: it has not. */
  firstBackAt: Moment.nullable(),
  /** What of it the student has heard since; of a group who heard the most. */
  heard: z.array(Heard),
  documents: z.array(DocumentState),
  /** Of a copy that is marked blind: where its student's name stands on the pages themselves, to be covered there. */
  named: z.array(z.object({ document: DocumentId, page: z.int(), box: BoxSchema })),
  /** Of worksheets that were filled in: their questions, by the document that shows them. */
  asked: z.array(FilledIn),
  marking: MarkingState,
  scoring: CopyScoring,
  /** What its student typed and chose, as it was handed in. */
  answers: z.array(z.object({ question: QuestionId, value: z.string() })),
  /** The page its marking was left at, counted from 0 through all documents. */
  /** Until when its student was promised to be able to take it back: marking cannot begin before that; null: it can. */
  openUntil: Moment.nullable(),
  leftAt: z.int(),
});
export type Desk = z.infer<typeof Desk>;

/** A student's own copy as it stands: drawing and answers. */
export const CopyState = z.object({
  seq: z.int(),
  marks: z.array(VersionedMark),
  answers: z.array(z.object({ question: QuestionId, value: AnswerText, version: ChangeId })),
  /** Texts that grow: what is merged is the text as it stands. */
  texts: z.array(z.object({ question: QuestionId, update: TextUpdate })),
});
export type CopyState = z.infer<typeof CopyState>;

export const WorkRow = z.object({
  copyId: CopyId,
  assignment: AssignmentHead,
  place: Place,
  late: z.int(),
  overdue: z.boolean(),
  handedInAt: Moment.nullable(),
  handedBackAt: Moment.nullable(),
  /** Words came back of the newest hand-in, and the grade is still to come. */
  unfinished: z.boolean(),
  excused: z.boolean(),
  unit: z.string(),
  category: z.string(),
  unread: z.int(),
  /** The teacher changed the assignment, and it was not opened since. */
  changed: z.boolean(),
});
export type WorkRow = z.infer<typeof WorkRow>;

export const HandBackShape = z.object({
  id: HandBackId,
  /** 0: it was scored though nothing came in. */
  handInNumber: z.int(),
  /** Which hand-back of that hand-in it is. */
  number: z.int(),
  handedBackAt: Moment,
  /** When its hand-in went back first, also where that was recalled: what was done with a note before was done with an earlier hand-in's. */
  firstBackAt: Moment,
  /** Without its grade as long as `closed` is not 0. */
  snapshot: Snapshot,
  documents: z.array(DocumentState),
  filled: z.array(FilledIn),
  /** Of this student. */
  heard: z.array(Heard),
  opened: z.array(MarkId),
  /** How many notes must still be opened before the grade shows. */
  closed: z.int(),
});
export type HandBackShape = z.infer<typeof HandBackShape>;

/** One worksheet of a copy: its pages and questions in the version that was handed out. */
export const CopySheet = z.object({
  versionId: VersionId,
  name: z.string(),
  document: DocumentState,
  questions: Questions,
});
export type CopySheet = z.infer<typeof CopySheet>;

/** Something to look at that comes with an assignment. */
export const Material = z.object({
  id: MaterialId,
  kind: z.enum(['file', 'link', 'worksheet']),
  name: z.string(),
  url: z.string().nullable(),
  document: DocumentState.nullable(),
  worksheetId: z.string().nullable(),
  versionId: VersionId.nullable(),
  /** Points of a worksheet's questions, in hundredths. */
  points: z.int().nullable(),
});
export type Material = z.infer<typeof Material>;

export const Work = z.object({
  row: WorkRow,
  /** It is a trial run of this assignment, and its teacher fills it in; null: it is a student's. */
  trialOf: AssignmentId.nullable(),
  instructions: RichText,
  /** What the teacher changed after it was set, in their words; null: nothing was said. */
  news: z.object({ words: z.string(), at: Moment }).nullable(),
  materials: z.array(Material),
  student: z.object({ given: z.string(), family: z.string() }),
  /** Who works on it together with whom; null: one alone, who cannot choose either. */
  together: z.object({ others: z.array(z.string()), mayChoose: z.boolean() }).nullable(),
  teachers: z.array(z.string()),
  /** Whether something is handed in, or the work is only called done. */
  handsIn: z.boolean(),
  /** How long a hand-in can be taken back. */
  takeBack: TakingBack,
  sheets: z.array(CopySheet),
  state: CopyState,
  /** Files and links that lie on the copy, in the student's order. */
  files: z.array(DocumentState),
  handIn: z
    .object({
      id: HandInId,
      number: z.int(),
      handedInAt: Moment,
      claimedAt: Moment.nullable(),
      /** The teacher who handed it in for its student; null: they did it themselves. */
      by: z.string().nullable(),
      documents: z.array(DocumentState),
      filled: z.array(FilledIn),
    })
    .nullable(),
  handBack: HandBackShape.nullable(),
  /** How it came back before: the last hand-back of each earlier hand-in, the newest first. */
  earlier: z.array(z.object({ id: HandBackId, handInNumber: z.int(), at: Moment })),
  /** It was taken back in to be looked at again: since when, and what was said; null: it was not, or it came back since. */
  recalled: z.object({ at: Moment, words: z.string() }).nullable(),
  /** The midway round, where it was released. */
  midway: z.object({ at: Moment, snapshot: Snapshot }).nullable(),
  /** What it will be scored by; null: no rubric. */
  rubric: HungRubric.pick({ name: true, rubric: true, number: true }).nullable(),
});
export type Work = z.infer<typeof Work>;

/** Something that takes longer than an answer may: how far it is can be asked by its id. */
export const Ordered = z.object({ jobId: JobId, progress: Progress });
export type Ordered = z.infer<typeof Ordered>;
