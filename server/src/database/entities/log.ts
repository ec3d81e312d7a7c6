import {
  type AssignmentId,
  type ClassId,
  type CopyId,
  LoggedAct,
  OpenKind,
  type PersonId,
  type RemarkAnswerId,
  type RemarkId,
} from '@jotmark/core';
import { ascii, big, id, long, maybe, moment, oneOf, primary, table, text, words } from '../columns.ts';

/** Something said to students of a class without any copy. */
export interface RemarkRow {
  id: RemarkId;
  classId: ClassId;
  byId: PersonId;
  /** The day it is about. */
  at: number;
  madeAt: number;
  words: string;
  work: string;
  strand: string;
}
export const RemarkTable = table<RemarkRow>(
  'remark',
  {
    id: primary(id()),
    classId: id(),
    byId: id(),
    at: moment(),
    madeAt: moment(),
    words: words(),
    work: text(40),
    strand: text(60),
  },
  { class: ['school_class', 'classId'], by: ['person', 'byId'] },
);

/** For whom a remark is. */
export interface RemarkStudentRow {
  remarkId: RemarkId;
  personId: PersonId;
}
export const RemarkStudentTable = table<RemarkStudentRow>(
  'remark_student',
  { remarkId: primary(id()), personId: primary(id()) },
  { remark: ['remark', 'remarkId'], person: ['person', 'personId'] },
);

/** What was written to a remark in the log of one student, by the student or a teacher. */
export interface RemarkAnswerRow {
  id: RemarkAnswerId;
  remarkId: RemarkId;
  /** Whose log it stands in. */
  personId: PersonId;
  byId: PersonId;
  at: number;
  words: string;
  /** The words of the remark it is about; empty: all of it. */
  quote: string;
  /** When the teacher whose remark it is had it before them; null: not yet. */
  seenAt: number | null;
}
export const RemarkAnswerTable = table<RemarkAnswerRow>(
  'remark_answer',
  {
    id: primary(id()),
    remarkId: id(),
    personId: id(),
    byId: id(),
    at: moment(),
    words: words(),
    quote: text(300),
    seenAt: maybe(moment()),
  },
  { remark: ['remark', 'remarkId'], person: ['person', 'personId'], by: ['person', 'byId'] },
);

/** What a teacher wrote about a student for a term. */
export interface ReportRow {
  classId: ClassId;
  personId: PersonId;
  term: string;
  words: string;
  changedAt: number;
  byId: PersonId;
}
export const ReportTable = table<ReportRow>(
  'report',
  {
    classId: primary(id()),
    personId: primary(id()),
    term: primary(text(40)),
    words: long(),
    changedAt: moment(),
    byId: id(),
  },
  { class: ['school_class', 'classId'], person: ['person', 'personId'] },
);

/** An address that opens something to whoever has it, until it is closed. */
export interface OpenAddressRow {
  token: string;
  kind: OpenKind;
  classId: ClassId;
  /** Whose page it is, or who asked for it. */
  personId: PersonId;
  madeById: PersonId;
  madeAt: number;
}
export const OpenAddressTable = table<OpenAddressRow>(
  'open_address',
  {
    token: primary(ascii(43)),
    kind: oneOf(OpenKind, 12),
    classId: id(),
    personId: id(),
    madeById: id(),
    madeAt: moment(),
  },
  { class: ['school_class', 'classId'], person: ['person', 'personId'] },
);

/** That somebody looked at something or changed it, kept for as long as the school says. */
export interface ActLogRow {
  /** The database's own number. */
  seq: number;
  at: number;
  byId: PersonId;
  act: LoggedAct;
  classId: ClassId | null;
  assignmentId: AssignmentId | null;
  copyId: CopyId | null;
  personId: PersonId | null;
}
export const ActLogTable = table<ActLogRow>('act_log', {
  seq: primary(big()),
  at: moment(),
  byId: id(),
  act: oneOf(LoggedAct, 30),
  classId: maybe(id()),
  assignmentId: maybe(id()),
  copyId: maybe(id()),
  personId: maybe(id()),
});

export const LOG = [
  RemarkTable,
  RemarkStudentTable,
  RemarkAnswerTable,
  ReportTable,
  OpenAddressTable,
  ActLogTable,
];
