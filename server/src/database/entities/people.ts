import { FocusSign, InkColour, type PersonId, Role, readTrays, type Trays } from '@jotmark/core';
import { digest, flag, id, int, json, moment, oneOf, primary, table, text } from '../columns.ts';

/** Somebody who can sign in. */
export interface PersonRow {
  id: PersonId;
  role: Role;
  login: string;
  given: string;
  family: string;
  passwordHash: string;
  /** Made by another, on a sheet: they choose their own when they sign in with it. */
  firstPassword: boolean;
  createdAt: number;
}
export const PersonTable = table<PersonRow>('person', {
  id: primary(id()),
  role: oneOf(Role, 10),
  login: text(100),
  given: text(100),
  family: text(100),
  passwordHash: text(200),
  firstPassword: flag(),
  createdAt: moment(),
});

/** One browser that is signed in. The cookie's secret is kept as its digest only. */
export interface SessionRow {
  tokenHash: string;
  personId: PersonId;
  /** Goes with every change, so that other sites cannot send one. */
  token: string;
  expiresAt: number;
}
export const SessionTable = table<SessionRow>(
  'session',
  { tokenHash: primary(digest()), personId: id(), token: text(64), expiresAt: moment() },
  { person: ['person', 'personId'] },
);

/** Wrong passwords, counted by login and by address. */
export interface AttemptRow {
  name: string;
  hits: number;
  resetAt: number;
}
export const AttemptTable = table<AttemptRow>('attempt', {
  name: primary(text(190)),
  hits: int(),
  resetAt: moment(),
});

/** A teacher's own pens. */
export interface PenTraysRow {
  personId: PersonId;
  content: Trays;
  at: number;
}
export const PenTraysTable = table<PenTraysRow>('pen_trays', {
  personId: primary(id()),
  content: json((raw) => readTrays(raw)),
  at: moment(),
});

/** A picture that marks use: which of the kept bytes may be asked for as one. */
export interface PictureRow {
  sha256: string;
  createdAt: number;
}
export const PictureTable = table<PictureRow>('picture', { sha256: primary(digest()), createdAt: moment() });

/** What a teacher's marks are about. */
export interface FocusRow {
  ownerId: PersonId;
  name: string;
  colour: InkColour;
  sign: FocusSign;
  position: number;
}
export const FocusTable = table<FocusRow>('focus', {
  ownerId: primary(id()),
  name: primary(text(40)),
  colour: oneOf(InkColour, 12),
  sign: oneOf(FocusSign, 12),
  position: int(),
});

export const PEOPLE = [PersonTable, SessionTable, AttemptTable, PenTraysTable, PictureTable, FocusTable];
