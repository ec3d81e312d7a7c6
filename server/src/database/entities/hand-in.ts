import {
  AnswerKind,
  type CopyId,
  DocumentId,
  type HandBackId,
  type HandInContent,
  type HandInId,
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
  },
  { copy: ['copy', 'copyId'], handIn: ['hand_in', 'handInId'] },
);

/** A hand-back as one PDF. */
export interface HandBackPdfRow {
  handBackId: HandBackId;
  sha256: string;
  name: string;
}
export const HandBackPdfTable = table<HandBackPdfRow>('hand_back_pdf', {
  handBackId: primary(id()),
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
];
