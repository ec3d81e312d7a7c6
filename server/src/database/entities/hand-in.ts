import {
  AnswerKind,
  type AssignmentId,
  CopyId,
  DocumentId,
  HandBackHow,
  type HandBackId,
  type HandBackOrderId,
  type HandInContent,
  type HandInId,
  Heard,
  type MarkId,
  type PersonId,
  type QuestionId,
  readHandInContent,
  readSnapshot,
  type Snapshot,
  type VersionId,
} from '@jotmark/core';
import * as z from 'zod';
import {
  big,
  digest,
  flag,
  id,
  int,
  json,
  jsonOf,
  long,
  maybe,
  moment,
  oneOf,
  primary,
  table,
  text,
} from '../columns.ts';

/** A copy as it was handed in: frozen. */
export interface HandInRow {
  id: HandInId;
  copyId: CopyId;
  number: number;
  /** Which of the copy's students did it; null: it is not known any more. */
  byId: PersonId | null;
  handedInAt: number;
  lateMs: number;
  claimedAt: number | null;
  content: HandInContent | null;
  /** What a teacher laid on the copy when they handed it in for its student; null: the student did it. */
  brought: DocumentId[] | null;
}
export const HandInTable = table<HandInRow>(
  'hand_in',
  {
    id: primary(id()),
    copyId: id(),
    number: int(),
    byId: maybe(id()),
    handedInAt: moment(),
    lateMs: big(),
    claimedAt: maybe(moment()),
    content: maybe(json((raw) => readHandInContent(raw))),
    brought: maybe(jsonOf(z.array(DocumentId))),
  },
  { copy: ['copy', 'copyId'] },
);

export interface HandInDocumentRow {
  handInId: HandInId;
  position: number;
  documentId: DocumentId;
}
export const HandInDocumentTable = table<HandInDocumentRow>(
  'hand_in_document',
  { handInId: primary(id()), position: primary(int()), documentId: id() },
  { handIn: ['hand_in', 'handInId'], document: ['document', 'documentId'] },
);

const KINDS = AnswerKind.options.map((o) => o.shape.kind.value);
export type AnswerKindName = (typeof KINDS)[number];

/** One answer of a hand-in, as a row: a question is read across a whole class by these. */
export interface HandInAnswerRow {
  handInId: HandInId;
  questionId: QuestionId;
  versionId: VersionId;
  kind: AnswerKindName;
  value: string;
  /** SHA-256 of the value: equal answers of a class are found by it. */
  digest: string;
  /** What it earned, in hundredths; part of the marking, so no student route reads it. Null: not scored. */
  points: number | null;
}
export const HandInAnswerTable = table<HandInAnswerRow>(
  'hand_in_answer',
  {
    handInId: primary(id()),
    questionId: primary(id()),
    versionId: id(),
    kind: oneOf(z.enum(KINDS), 12),
    value: long(),
    digest: digest(),
    points: maybe(int()),
  },
  { handIn: ['hand_in', 'handInId'] },
);

/** A hand-in that its student took back before anybody marked it. */
export interface TakenBackRow {
  id: HandInId;
  copyId: CopyId;
  number: number;
  handedInAt: number;
  takenBackAt: number;
  content: HandInContent | null;
  documents: DocumentId[];
}
export const TakenBackTable = table<TakenBackRow>(
  'taken_back',
  {
    id: primary(id()),
    copyId: id(),
    number: int(),
    handedInAt: moment(),
    takenBackAt: moment(),
    content: maybe(json((raw) => readHandInContent(raw))),
    documents: jsonOf(z.array(DocumentId)),
  },
  { copy: ['copy', 'copyId'] },
);

/** What a student got: frozen, and all they ever see of a marking. */
export interface HandBackRow {
  id: HandBackId;
  copyId: CopyId;
  /** Null: a round was released on a copy that nothing came in of, or that is still being worked on. */
  handInId: HandInId | null;
  /** Which round of the marking it is. */
  round: number;
  handedBackAt: number;
  byId: PersonId;
  content: Snapshot;
  /** Of the content: its grade, and how many notes stand in its margin. */
  grade: number | null;
  notes: number;
  /** Words and no grade. Its copy stays with the teacher. */
  unfinished: boolean;
  /** The marking goes on: it went back unfinished, or is changed after it went back. The same on all hand-backs of a hand-in. */
  goesOn: boolean;
  /** Whether its students were told. */
  told: boolean;
}
export const HandBackTable = table<HandBackRow>(
  'hand_back',
  {
    id: primary(id()),
    copyId: id(),
    handInId: maybe(id()),
    round: int(),
    handedBackAt: moment(),
    byId: id(),
    content: json((raw) => readSnapshot(raw)),
    grade: maybe(int()),
    notes: int(),
    unfinished: flag(),
    goesOn: flag(),
    told: flag(),
  },
  { copy: ['copy', 'copyId'], handIn: ['hand_in', 'handInId'] },
);

/** A hand-back that was taken back in. It lies here and nowhere else, so that nothing that shows hand-backs can show it. */
export interface RecalledRow {
  id: HandBackId;
  copyId: CopyId;
  handInId: HandInId | null;
  round: number;
  handedBackAt: number;
  byId: PersonId;
  content: Snapshot;
  recalledAt: number;
  recalledById: PersonId;
  /** What its student was told; empty: nothing. */
  words: string;
  /** When it was first looked at; null: never. */
  seenAt: number | null;
  /** How far what was said in it was heard. */
  heard: Heard[];
}
export const RecalledTable = table<RecalledRow>(
  'recalled_hand_back',
  {
    id: primary(id()),
    copyId: id(),
    handInId: maybe(id()),
    round: int(),
    handedBackAt: moment(),
    byId: id(),
    content: json((raw) => readSnapshot(raw)),
    recalledAt: moment(),
    recalledById: id(),
    words: text(1000),
    seenAt: maybe(moment()),
    heard: jsonOf(z.array(Heard)),
  },
  { copy: ['copy', 'copyId'] },
);

/** What of a hand-back a student has opened: a mark, or, by the hand-back's own id, the copy itself. */
export interface OpenedRow {
  handBackId: HandBackId;
  what: MarkId | HandBackId;
  personId: PersonId;
  at: number;
}
export const OpenedTable = table<OpenedRow>('opened', {
  handBackId: primary(id()),
  what: primary(id()),
  personId: primary(id()),
  at: moment(),
});

export const OrderState = z.enum(['waits', 'done', 'undone']);
export type OrderState = z.infer<typeof OrderState>;

/** Copies that go back at a set time. */
export interface HandBackOrderRow {
  id: HandBackOrderId;
  assignmentId: AssignmentId;
  byId: PersonId;
  madeAt: number;
  at: number;
  copyIds: CopyId[];
  how: HandBackHow;
  /** In a moment, until then it can be undone; it is no date that somebody set. */
  soon: boolean;
  state: OrderState;
}
export const HandBackOrderTable = table<HandBackOrderRow>(
  'hand_back_order',
  {
    id: primary(id()),
    assignmentId: id(),
    byId: id(),
    madeAt: moment(),
    at: moment(),
    copyIds: jsonOf(z.array(CopyId)),
    how: jsonOf(HandBackHow),
    soon: flag(),
    state: oneOf(OrderState, 10),
  },
  { assignment: ['assignment', 'assignmentId'], by: ['person', 'byId'] },
);

/** A hand-back as one PDF; where its grade shows after reading there is one without it as well. */
export interface HandBackPdfRow {
  handBackId: HandBackId;
  graded: boolean;
  sha256: string;
  name: string;
}
export const HandBackPdfTable = table<HandBackPdfRow>('hand_back_pdf', {
  handBackId: primary(id()),
  graded: primary(flag()),
  sha256: digest(),
  name: text(255),
});

export const HAND_IN = [
  HandInTable,
  HandInDocumentTable,
  HandInAnswerTable,
  TakenBackTable,
  HandBackTable,
  HandBackPdfTable,
  RecalledTable,
  OpenedTable,
  HandBackOrderTable,
];
