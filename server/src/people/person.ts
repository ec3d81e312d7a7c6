import { fullName, type Person, type PersonId, type Role, routes } from '@jotmark/core';
import type { Response } from 'express';
import { type PersonRow, PersonTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find, insert } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hashPassword, passwordFits } from './password.ts';
import { type SignedIn, startSession } from './session.ts';

export interface NewPerson {
  readonly role: Role;
  readonly login: string;
  readonly given: string;
  readonly family: string;
  readonly password: string;
}

/** Adds a person. A login that is taken throws the database's duplicate-key error. */
export async function addPerson(house: House, { password, ...person }: NewPerson): Promise<Person> {
  const id = newId<PersonId>(house);
  await insert(house.db.manager, PersonTable, {
    id,
    ...person,
    passwordHash: await hashPassword(password),
    firstPassword: false,
    createdAt: house.now(),
  });
  return { id, ...person };
}

/** Somebody's whole name; empty: there is nobody like that. */
export async function nameOf(db: Db, id: PersonId | null): Promise<string> {
  const person = id && (await find(db, PersonTable, { id }));
  return person ? fullName(person) : '';
}

/** What is told of a person: never the hash of their password. */
export const personOf = ({ id, role, given, family, login }: PersonRow): Person => ({
  id,
  role,
  given,
  family,
  login,
});

export async function signIn(
  house: House,
  body: { login: string; password: string },
  res: Response,
): Promise<SignedIn> {
  const { login, password } = routes.signIn.body.parse(body);
  const row = await find(house.db.manager, PersonTable, { login: login.trim() });
  if (!(await passwordFits(row?.passwordHash ?? null, password))) throw new Fault('wrong-password');
  return startSession(house, personOf(row!), row!.firstPassword, res);
}
