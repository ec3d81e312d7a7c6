import {
  AnswerKeys,
  type CopyId,
  type DocumentId,
  Flow,
  type HandInId,
  NoPages,
  OwnNote,
  PageFrame,
  type PersonId,
  type Question,
  readQuestions,
  Shows,
  Turns,
  type VersionId,
  type WorksheetId,
} from '@jotmark/core';
import * as z from 'zod';
import { digest, id, int, json, jsonOf, maybe, moment, oneOf, primary, table, text } from '../columns.ts';

/** A file or a link, as it came and as it is shown. */
export interface DocumentRow {
  id: DocumentId;
  /** Whose it is: a copy's, or a teacher's own. */
  copyId: CopyId | null;
  ownerId: PersonId | null;
  name: string;
  originalSha256: string | null;
  /** The PDF that is shown, where there is one. */
  sha256: string | null;
  pages: number;
  /** How its pages lie; null: they are not read yet. */
  frames: PageFrame[] | null;
  createdAt: number;
  type: string;
  shows: Shows;
  trouble: NoPages | null;
  url: string | null;
  /** A worksheet as it was filled in: of which hand-in, and of which version it is. */
  filledFrom: HandInId | null;
  versionId: VersionId | null;
  pictureSha256: string | null;
  /** Of a worksheet that was filled in: answers that stand on pages of their own. */
  flows: Flow[] | null;
  /** And what its student noted on it. */
  ownNotes: OwnNote[] | null;
  /** When its student took it off their copy; null: they did not. */
  takenAwayAt: number | null;
}
export const DocumentTable = table<DocumentRow>(
  'document',
  {
    id: primary(id()),
    copyId: maybe(id()),
    ownerId: maybe(id()),
    name: text(255),
    originalSha256: maybe(digest()),
    sha256: maybe(digest()),
    pages: int(),
    frames: maybe(jsonOf(z.array(PageFrame))),
    createdAt: moment(),
    type: text(100),
    shows: oneOf(Shows, 10),
    trouble: maybe(oneOf(NoPages, 30)),
    url: maybe(text(2000)),
    filledFrom: maybe(id()),
    versionId: maybe(id()),
    pictureSha256: maybe(digest()),
    flows: maybe(jsonOf(z.array(Flow))),
    ownNotes: maybe(jsonOf(z.array(OwnNote))),
    takenAwayAt: maybe(moment()),
  },
  { copy: ['copy', 'copyId'], original: ['blob_file', 'originalSha256'] },
);

/** The text layer of all pages, as JSON among the kept bytes: it goes from the child that read it to the browser and is opened nowhere between. */
export interface DocumentTextRow {
  documentId: DocumentId;
  sha256: string;
}
export const DocumentTextTable = table<DocumentTextRow>('document_text', {
  documentId: primary(id()),
  sha256: digest(),
});

/** What is drawn on the pages of a worksheet, in the same way. */
export const DocumentShapesTable = table<DocumentTextRow>('document_shapes', {
  documentId: primary(id()),
  sha256: digest(),
});

/** One of several files that are one document. */
export interface DocumentPartRow {
  documentId: DocumentId;
  position: number;
  name: string;
  type: string;
  sha256: string;
}
export const DocumentPartTable = table<DocumentPartRow>('document_part', {
  documentId: primary(id()),
  position: primary(int()),
  name: text(255),
  type: text(100),
  sha256: digest(),
});

/** How the teacher turned pages for reading. */
export interface PageTurnsRow {
  documentId: DocumentId;
  turns: Turns;
}
export const PageTurnsTable = table<PageTurnsRow>('page_turns', {
  documentId: primary(id()),
  turns: jsonOf(Turns),
});

export interface WorksheetRow {
  id: WorksheetId;
  ownerId: PersonId;
  name: string;
  createdAt: number;
  /** What its questions' answers should be; no student route reads it. Null: there are no keys. */
  answerKeys: AnswerKeys | null;
}
export const WorksheetTable = table<WorksheetRow>(
  'worksheet',
  {
    id: primary(id()),
    ownerId: id(),
    name: text(200),
    createdAt: moment(),
    answerKeys: maybe(jsonOf(AnswerKeys)),
  },
  { owner: ['person', 'ownerId'] },
);

/** The questions of a worksheet as they are handed out. A version of which copies are out never changes. */
export interface WorksheetVersionRow {
  id: VersionId;
  worksheetId: WorksheetId;
  number: number;
  documentId: DocumentId;
  questions: Question[];
  revision: number;
  createdAt: number;
}
export const WorksheetVersionTable = table<WorksheetVersionRow>(
  'worksheet_version',
  {
    id: primary(id()),
    worksheetId: id(),
    number: int(),
    documentId: id(),
    questions: json((raw) => readQuestions(raw)),
    revision: int(),
    createdAt: moment(),
  },
  { worksheet: ['worksheet', 'worksheetId'], document: ['document', 'documentId'] },
);

export const DOCUMENT = [
  DocumentTable,
  DocumentTextTable,
  DocumentShapesTable,
  DocumentPartTable,
  PageTurnsTable,
  WorksheetTable,
  WorksheetVersionTable,
];
