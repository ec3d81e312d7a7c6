import { type PersonId, routes } from '@jotmark/core';
import type { Request, Response } from 'express';
import { PersonTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { tryPassword } from './attempts.ts';
import { knownDevice, rememberDevice } from './known-devices.ts';
import { passwordFits } from './password.ts';
import { personOf } from './person.ts';
import { stepFits } from './second-step.ts';
import { type SignedIn, startSession } from './session.ts';

/** Signs somebody in. The same is said of an unknown login and of a wrong password; that a code is wanted is said only to who knows the password. */
export async function signIn(house: House, req: Request, res: Response): Promise<SignedIn> {
  const { login, password, code } = routes.signIn.body.parse(req.body);
  const row = await find(house.db.manager, PersonTable, { login: login.trim() });
  const guess = {
    login: login.trim(),
    address: req.ip ?? '',
    knownDevice: row && (await knownDevice(house, req, row.id)),
  };
  let trouble: Fault = new Fault('wrong-password');
  const right = await tryPassword(house, guess, async () => {
    if (!(await passwordFits(row?.passwordHash ?? null, password))) return false;
    if (!row!.stepOn) return true;
    // Nothing was guessed wrong yet: the browser asks for the code now.
    if (code === undefined) throw new Fault('second-step');
    trouble = new Fault('wrong-code');
    return stepFits(house, row!, code);
  });
  if (!right) throw trouble;
  const personId: PersonId = row!.id;
  const signedIn = await startSession(house, personOf(row!), row!.firstPassword, row!.stepOn, req, res);
  await rememberDevice(house, req, res, personId);
  return signedIn;
}
