import {
  type BookRule,
  type ClassId,
  type ConsentId,
  type JoinCode,
  type PersonId,
  Role,
  readBookRule,
} from '@jotmark/core';
import { ascii, flag, id, json, maybe, moment, oneOf, primary, table, text } from '../columns.ts';

export interface ClassRow {
  id: ClassId;
  name: string;
  /** Where new assignments begin. */
  unit: string;
  createdAt: number;
  /** How its mark book adds up; null: nobody has said. */
  bookRule: BookRule | null;
  /** Put out of the way at the end of a year; null: it is in use. */
  archivedAt: number | null;
}
export const ClassTable = table<ClassRow>('school_class', {
  id: primary(id()),
  name: text(60),
  unit: text(200),
  createdAt: moment(),
  bookRule: maybe(json(readBookRule)),
  archivedAt: maybe(moment()),
});

/** Who is in a class, as what. Who left has a date and keeps all their work. */
export interface MembershipRow {
  classId: ClassId;
  personId: PersonId;
  role: Role;
  leftAt: number | null;
}
export const MembershipTable = table<MembershipRow>(
  'membership',
  { classId: primary(id()), personId: primary(id()), role: oneOf(Role, 10), leftAt: maybe(moment()) },
  { class: ['school_class', 'classId'], person: ['person', 'personId'] },
);

/** Somebody new wants a student in their class: a teacher who has that student, or an administrator, says yes or no. */
export interface ConsentRow {
  id: ConsentId;
  classId: ClassId;
  personId: PersonId;
  askedById: PersonId;
  askedAt: number;
  answeredById: PersonId | null;
  answeredAt: number | null;
  granted: boolean | null;
}
export const ConsentTable = table<ConsentRow>(
  'consent',
  {
    id: primary(id()),
    classId: id(),
    personId: id(),
    askedById: id(),
    askedAt: moment(),
    answeredById: maybe(id()),
    answeredAt: maybe(moment()),
    granted: maybe(flag()),
  },
  { class: ['school_class', 'classId'], person: ['person', 'personId'] },
);

/** By which students ask to be let into a class. Not in a class's archive: it holds where it was made. */
export interface JoinCodeRow {
  classId: ClassId;
  code: JoinCode;
  madeAt: number;
}
export const JoinCodeTable = table<JoinCodeRow>(
  'join_code',
  { classId: primary(id()), code: ascii(6), madeAt: moment() },
  { class: ['school_class', 'classId'] },
);

export const REGISTER = [ClassTable, MembershipTable, ConsentTable, JoinCodeTable];
