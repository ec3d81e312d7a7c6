import * as z from 'zod';
import { AnswerKeys } from '../alike/key.ts';
import { TakingBack } from '../assignment/taking-back.ts';
import { Together } from '../assignment/together.ts';
import { AssignmentId, ClassId, CopyId, PersonId, VersionId, WorksheetId } from '../ids/id.ts';
import { MAX_POINTS } from '../points/points.ts';
import { Questions } from '../questions/question.ts';
import { RichText } from '../rich/rich-text.ts';
import { Rubric } from '../rubric/rubric.ts';
import { AssignmentStage, DocumentState, Material, Moment } from './shapes.ts';

export const AssignmentLine = z.object({
  id: AssignmentId,
  title: z.string(),
  category: z.string(),
  unit: z.string(),
  stage: AssignmentStage,
  opensAt: Moment.nullable(),
  dueAt: Moment.nullable(),
  most: z.int().nullable(),
  putAway: z.boolean(),
  copies: z.int(),
  handedIn: z.int(),
});
export type AssignmentLine = z.infer<typeof AssignmentLine>;

/** For whom a draft will be set: whole classes, or chosen students of its own class. */
export const Audience = z.object({
  /** Classes beside its own that get it as well. */
  alsoClasses: z.array(ClassId).max(30),
  /** null: everyone, and who joins later. */
  students: z.array(PersonId).max(1000).nullable(),
});
export type Audience = z.infer<typeof Audience>;

/** What a teacher writes of an assignment. */
export const AssignmentWords = z.object({
  title: z.string().trim().max(200),
  instructions: RichText,
  category: z.string().trim().max(60),
  unit: z.string().trim().max(200),
  most: z.int().min(0).max(MAX_POINTS).nullable(),
  dueAt: Moment.nullable(),
  handsIn: z.boolean(),
  takeBack: TakingBack,
});
export type AssignmentWords = z.infer<typeof AssignmentWords>;

export const AssignmentStudent = z.object({
  personId: PersonId,
  given: z.string(),
  family: z.string(),
  /** The copy they have, alone or with others; null: none. */
  copyId: CopyId.nullable(),
  excused: z.boolean(),
  /** Own date; null: that of the assignment. */
  dueAt: Moment.nullable(),
  handedIn: z.boolean(),
});
export type AssignmentStudent = z.infer<typeof AssignmentStudent>;

/** A trial run: its own pile and the one copy in it. */
export const TrialShape = z.object({ assignmentId: AssignmentId, copyId: CopyId });
export type TrialShape = z.infer<typeof TrialShape>;

export const AssignmentSheet = z.object({
  id: AssignmentId,
  classId: ClassId,
  className: z.string(),
  stage: AssignmentStage,
  opensAt: Moment.nullable(),
  putAway: z.boolean(),
  /** Goes up with every save: a save made on an older one is refused, not swallowed. */
  revision: z.int(),
  words: AssignmentWords,
  audience: Audience,
  materials: z.array(Material),
  students: z.array(AssignmentStudent),
  familyToken: z.string().nullable(),
  /** How they work together; null: each alone. Once it is handed out, who is with whom is told by their copies. */
  together: Together.nullable(),
  /** The trial run of who asks; null: none. */
  trial: TrialShape.nullable(),
});
export type AssignmentSheet = z.infer<typeof AssignmentSheet>;

export const FamilyPage = z.object({
  school: z.string(),
  title: z.string(),
  category: z.string(),
  unit: z.string(),
  instructions: RichText,
  dueAt: Moment.nullable(),
  materials: z.array(Material),
  /** Where the teacher shows it to families; null: they do not, or there is none. */
  rubric: z.object({ name: z.string(), rubric: Rubric }).nullable(),
});
export type FamilyPage = z.infer<typeof FamilyPage>;

export const WorksheetLine = z.object({
  id: WorksheetId,
  name: z.string(),
  version: z.int(),
  pages: z.int(),
  questions: z.int(),
  points: z.int(),
  createdAt: Moment,
});
export type WorksheetLine = z.infer<typeof WorksheetLine>;

export const WorksheetShape = z.object({
  id: WorksheetId,
  name: z.string(),
  /** Only its maker changes it. */
  mine: z.boolean(),
  versionId: VersionId,
  number: z.int(),
  revision: z.int(),
  /** Copies of this version are out: the next save makes a new version. */
  handedOut: z.boolean(),
  document: DocumentState,
  questions: Questions,
  keys: AnswerKeys,
  versions: z.array(z.object({ number: z.int(), createdAt: Moment, copies: z.int() })),
});
export type WorksheetShape = z.infer<typeof WorksheetShape>;
