import {
  type ChangeId,
  type CopyId,
  type DocumentId,
  type Mark,
  type MarkId,
  type PersonId,
  type QuestionId,
  readMark,
  TrailEntry,
  type VersionId,
} from '@jotmark/core';
import { flag, id, int, json, jsonOf, long, maybe, moment, primary, table } from '../columns.ts';

/** The worksheets of a copy, in the version that was handed out. */
export interface CopySheetRow {
  copyId: CopyId;
  position: number;
  versionId: VersionId;
}
export const CopySheetTable = table<CopySheetRow>(
  'copy_sheet',
  { copyId: primary(id()), position: primary(int()), versionId: id() },
  { copy: ['copy', 'copyId'], version: ['worksheet_version', 'versionId'] },
);

/** Files that lie on a copy, in the student's order. */
export interface CopyFileRow {
  copyId: CopyId;
  documentId: DocumentId;
  position: number;
}
export const CopyFileTable = table<CopyFileRow>('copy_file', {
  copyId: primary(id()),
  documentId: primary(id()),
  position: int(),
});

/** An answer as it stands while the copy is with its student. */
export interface CopyAnswerRow {
  copyId: CopyId;
  questionId: QuestionId;
  version: ChangeId;
  seq: number;
  value: string;
}
export const CopyAnswerTable = table<CopyAnswerRow>('copy_answer', {
  copyId: primary(id()),
  questionId: primary(id()),
  version: id(),
  seq: int(),
  value: long(),
});

/** A text that grows, as far as it was put together: what came after its `seq` lies beside it. In base64, as the editor's shared text has it. */
export interface CopyTextRow {
  copyId: CopyId;
  questionId: QuestionId;
  /** Of the newest change that is in `state`. */
  seq: number;
  state: string;
}
export const CopyTextTable = table<CopyTextRow>('copy_text', {
  copyId: primary(id()),
  questionId: primary(id()),
  seq: int(),
  state: long(),
});

/** What was written into such a text since, in order. */
export interface CopyTextUpdateRow {
  copyId: CopyId;
  seq: number;
  questionId: QuestionId;
  changeId: ChangeId;
  value: string;
}
export const CopyTextUpdateTable = table<CopyTextUpdateRow>('copy_text_update', {
  copyId: primary(id()),
  seq: primary(int()),
  questionId: id(),
  changeId: id(),
  value: long(),
});

/** A stroke of a copy. One that went keeps its points for the trail. */
export interface CopyMarkRow {
  copyId: CopyId;
  id: MarkId;
  version: ChangeId;
  seq: number;
  value: Mark | null;
  gone: boolean;
}
export const CopyMarkTable = table<CopyMarkRow>('copy_mark', {
  copyId: primary(id()),
  id: primary(id()),
  version: id(),
  seq: int(),
  value: maybe(json((raw) => ({ ok: true, value: readMark(raw) }))),
  gone: flag(),
});

/** A step of the working trail. */
export interface CopyTrailRow {
  copyId: CopyId;
  seq: number;
  changeId: ChangeId;
  at: number;
  subject: QuestionId | MarkId;
  value: TrailEntry;
  /** Who did it; null: it is not known any more. */
  byId: PersonId | null;
}
export const CopyTrailTable = table<CopyTrailRow>('copy_trail', {
  copyId: primary(id()),
  seq: primary(int()),
  changeId: id(),
  at: moment(),
  subject: id(),
  value: jsonOf(TrailEntry),
  byId: maybe(id()),
});

export const COPY_WORK = [
  CopySheetTable,
  CopyFileTable,
  CopyAnswerTable,
  CopyTextTable,
  CopyTextUpdateTable,
  CopyMarkTable,
  CopyTrailTable,
];
