import { FocusSign, InkColour, type PersonId, Role, readTrays, type Trays } from '@jotmark/core';
import { big, digest, flag, id, int, json, maybe, moment, oneOf, primary, table, text } from '../columns.ts';

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
  /** Who made it anew, and when; null: nobody did. */
  resetById: PersonId | null;
  resetAt: number | null;
  /** Of a second step at signing in: what its codes are made from, whether it is asked for, and the newest code's number that was used. */
  stepSecret: string | null;
  stepOn: boolean;
  stepUsed: number | null;
  /** What locks their unsent work in browsers that they have left; null: none was needed yet. */
  deviceKey: string | null;
  createdAt: number;
}
export const PersonTable = table<PersonRow>('person', {
  id: primary(id()),
  role: oneOf(Role, 16),
  login: text(100),
  given: text(100),
  family: text(100),
  passwordHash: text(200),
  firstPassword: flag(),
  resetById: maybe(id()),
  resetAt: maybe(moment()),
  stepSecret: maybe(text(64)),
  stepOn: flag(),
  stepUsed: maybe(big()),
  deviceKey: maybe(text(44)),
  createdAt: moment(),
});

/** One browser that is signed in. The cookie's secret is kept as its digest only. */
export interface SessionRow {
  tokenHash: string;
  personId: PersonId;
  /** Goes with every change, so that other sites cannot send one. */
  token: string;
  expiresAt: number;
  /** Which browser on what; empty: it did not say. */
  device: string;
  begunAt: number | null;
  /** Last use, to some minutes. */
  usedAt: number | null;
}
export const SessionTable = table<SessionRow>(
  'session',
  {
    tokenHash: primary(digest()),
    personId: id(),
    token: text(64),
    expiresAt: moment(),
    device: text(200),
    begunAt: maybe(moment()),
    usedAt: maybe(moment()),
  },
  { person: ['person', 'personId'] },
);

/** A browser in which this person has signed in before. The cookie's secret is kept as its digest only. */
export interface KnownDeviceRow {
  tokenHash: string;
  personId: PersonId;
  at: number;
}
export const KnownDeviceTable = table<KnownDeviceRow>(
  'known_device',
  { tokenHash: primary(digest()), personId: primary(id()), at: moment() },
  { person: ['person', 'personId'] },
);

/** Wrong passwords, counted by what `name` says. */
export interface AttemptRow {
  name: string;
  hits: number;
  /** When they are forgotten. */
  resetAt: number;
  lastAt: number | null;
}
export const AttemptTable = table<AttemptRow>('attempt', {
  name: primary(text(190)),
  hits: int(),
  resetAt: moment(),
  lastAt: maybe(moment()),
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

export const PEOPLE = [
  PersonTable,
  SessionTable,
  KnownDeviceTable,
  AttemptTable,
  PenTraysTable,
  PictureTable,
  FocusTable,
];
