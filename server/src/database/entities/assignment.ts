import {
  type AssignmentId,
  Audience,
  type ClassId,
  type CopyId,
  type DocumentId,
  type MaterialId,
  type PersonId,
  type QuestionId,
  RichText,
  type Rubric,
  type RubricId,
  type RubricVersionId,
  readRubric,
  readScoring,
  type Scoring,
  TakingBack,
  Together,
  type VersionId,
} from '@jotmark/core';
import * as z from 'zod';
import {
  ascii,
  flag,
  id,
  int,
  json,
  jsonOf,
  maybe,
  moment,
  oneOf,
  primary,
  table,
  text,
} from '../columns.ts';

export interface AssignmentRow {
  id: AssignmentId;
  classId: ClassId;
  title: string;
  instructions: RichText;
  dueAt: number | null;
  /** In hundredths; null: ungraded. */
  most: number | null;
  createdAt: number;
  category: string;
  unit: string;
  /** Null: a draft. */
  opensAt: number | null;
  /** Who joins later gets it too. */
  forAll: boolean;
  handsIn: boolean;
  /** How long students can take a hand-in back. */
  takeBack: TakingBack;
  putAwayAt: number | null;
  familyToken: string | null;
  news: string | null;
  newsAt: number | null;
  /** Of a draft: for whom it will be set. */
  audience: Audience | null;
  revision: number;
  blind: boolean;
  /** The rubric that hangs on it, in the version it was chosen in. */
  rubricVersionId: RubricVersionId | null;
  /** How it is scored; null: nobody has said, see `plainScoring`. */
  scoring: Scoring | null;
  /** The assignment that this is a trial run of; null: students get it. */
  trialOf: AssignmentId | null;
  /** How its students work together; null: each alone. */
  together: Together | null;
}
export const AssignmentTable = table<AssignmentRow>(
  'assignment',
  {
    id: primary(id()),
    classId: id(),
    title: text(200),
    instructions: jsonOf(RichText),
    dueAt: maybe(moment()),
    most: maybe(int()),
    createdAt: moment(),
    category: text(60),
    unit: text(200),
    opensAt: maybe(moment()),
    forAll: flag(),
    handsIn: flag(),
    takeBack: oneOf(TakingBack, 12),
    putAwayAt: maybe(moment()),
    familyToken: maybe(ascii(64)),
    news: maybe(text(1000)),
    newsAt: maybe(moment()),
    audience: maybe(jsonOf(Audience)),
    revision: int(),
    blind: flag(),
    rubricVersionId: maybe(id()),
    scoring: maybe(json((raw) => readScoring(raw))),
    trialOf: maybe(id()),
    together: maybe(jsonOf(Together)),
  },
  { class: ['school_class', 'classId'], rubricVersion: ['rubric_version', 'rubricVersionId'] },
);

export const MaterialKind = z.enum(['file', 'link', 'worksheet', 'picture']);
export type MaterialKind = z.infer<typeof MaterialKind>;

/** What comes with an assignment: something to look at, or a worksheet of which each student fills in their own. */
export interface MaterialRow {
  id: MaterialId;
  assignmentId: AssignmentId;
  position: number;
  kind: MaterialKind;
  name: string;
  documentId: DocumentId | null;
  versionId: VersionId | null;
}
export const MaterialTable = table<MaterialRow>(
  'material',
  {
    id: primary(id()),
    assignmentId: id(),
    position: int(),
    kind: oneOf(MaterialKind, 10),
    name: text(300),
    documentId: maybe(id()),
    versionId: maybe(id()),
  },
  {
    assignment: ['assignment', 'assignmentId'],
    document: ['document', 'documentId'],
    version: ['worksheet_version', 'versionId'],
  },
);

/** A copy of an assignment, over its whole life. Whose it is stands in `copy_member`: one student, or the several of a group. */
export interface CopyRow {
  id: CopyId;
  assignmentId: AssignmentId;
  /** A date of its own; null: that of the assignment. */
  dueAt: number | null;
  excused: boolean;
  seenAt: number | null;
  hereAt: number | null;
  workedAt: number | null;
  atQuestion: QuestionId | null;
}
export const CopyTable = table<CopyRow>(
  'copy',
  {
    id: primary(id()),
    assignmentId: id(),
    dueAt: maybe(moment()),
    excused: flag(),
    seenAt: maybe(moment()),
    hereAt: maybe(moment()),
    workedAt: maybe(moment()),
    atQuestion: maybe(id()),
  },
  { assignment: ['assignment', 'assignmentId'] },
);

/** A student of a copy. Nobody has two copies of one assignment. */
export interface CopyMemberRow {
  copyId: CopyId;
  personId: PersonId;
  assignmentId: AssignmentId;
}
export const CopyMemberTable = table<CopyMemberRow>(
  'copy_member',
  { copyId: primary(id()), personId: primary(id()), assignmentId: id() },
  { copy: ['copy', 'copyId'], person: ['person', 'personId'] },
);

/** A teacher's rubric, and its versions: what was scored keeps the version it was scored with. */
export interface RubricRow {
  id: RubricId;
  ownerId: PersonId;
  name: string;
  createdAt: number;
  putAwayAt: number | null;
}
export const RubricTable = table<RubricRow>(
  'rubric',
  { id: primary(id()), ownerId: id(), name: text(200), createdAt: moment(), putAwayAt: maybe(moment()) },
  { owner: ['person', 'ownerId'] },
);
export interface RubricVersionRow {
  id: RubricVersionId;
  rubricId: RubricId;
  number: number;
  content: Rubric;
  createdAt: number;
}
export const RubricVersionTable = table<RubricVersionRow>(
  'rubric_version',
  {
    id: primary(id()),
    rubricId: id(),
    number: int(),
    content: json((raw) => readRubric(raw)),
    createdAt: moment(),
  },
  { rubric: ['rubric', 'rubricId'] },
);

export const ASSIGNMENT = [
  AssignmentTable,
  MaterialTable,
  CopyTable,
  CopyMemberTable,
  RubricTable,
  RubricVersionTable,
];
