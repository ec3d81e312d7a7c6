import { type Person, type PersonId, type Role, routes } from '@jotmark/core';
import type { Response } from 'express';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';
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
export async function addPerson(house: House, person: NewPerson): Promise<Person> {
  const id = newId<PersonId>(house);
  await house.db.query(
    'INSERT INTO person (id, role, login, given, family, password_hash, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      id,
      person.role,
      person.login,
      person.given,
      person.family,
      await hashPassword(person.password),
      new Date(house.now()),
    ],
  );
  const { password: _, ...rest } = person;
  return { id, ...rest };
}

export async function signIn(
  house: House,
  body: { login: string; password: string },
  res: Response,
): Promise<SignedIn> {
  const { login, password } = routes.signIn.body.parse(body);
  const [row] = await house.db.query(
    'SELECT id, role, given, family, login, password_hash FROM person WHERE login = ?',
    [login.trim()],
  );
  if (!(await passwordFits(row?.password_hash ?? null, password))) throw new Fault('wrong-password');
  const { password_hash: _, ...person } = row;
  return startSession(house, person, res);
}
