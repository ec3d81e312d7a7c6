import { fullName, type Person, type PersonId, type Role } from '@jotmark/core';
import { type PersonRow, PersonTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find, insert } from '../database/write.ts';
import { type House, newId } from '../house.ts';
import { hashPassword } from './password.ts';

export interface NewPerson {
  readonly role: Role;
  readonly login: string;
  readonly given: string;
  readonly family: string;
  readonly password: string;
}

/** What a new account has. */
export const NEW_ACCOUNT = {
  firstPassword: false,
  resetById: null,
  resetAt: null,
  stepSecret: null,
  stepOn: false,
  stepUsed: null,
  deviceKey: null,
} as const;

/** Adds a person. A login that is taken throws the database's duplicate-key error. */
export async function addPerson(house: House, { password, ...person }: NewPerson): Promise<Person> {
  const id = newId<PersonId>(house);
  await insert(house.db.manager, PersonTable, {
    id,
    ...person,
    passwordHash: await hashPassword(password),
    ...NEW_ACCOUNT,
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
