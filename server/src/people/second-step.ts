import type { Person } from '@jotmark/core';
import { Secret, TOTP } from 'otpauth';
import { type PersonRow, PersonTable } from '../database/entities/index.ts';
import { retrying } from '../database/transaction.ts';
import { find, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { tryOwnPassword } from './attempts.ts';
import { passwordFits } from './password.ts';

const STEP_S = 30;
/** A phone's clock may be half a minute wrong. */
const WINDOW = 1;

/** Time-based codes as RFC 6238 has them, which every app for such codes reads. */
const codesOf = (house: House, login: string, secret: string): TOTP =>
  new TOTP({
    issuer: house.settings.school.name,
    label: login,
    algorithm: 'SHA1',
    digits: 6,
    period: STEP_S,
    secret: Secret.fromBase32(secret),
  });

/** The number of the moment that a code belongs to; null: it is the code of none. */
function momentOf(house: House, row: PersonRow, code: string): number | null {
  if (!row.stepSecret) return null;
  const timestamp = house.now();
  const delta = codesOf(house, row.login, row.stepSecret).validate({
    token: code,
    timestamp,
    window: WINDOW,
  });
  return delta === null ? null : Math.floor(timestamp / 1000 / STEP_S) + delta;
}

/** Whether a code is right; each counts once, also when it is sent twice at the same moment. */
export async function stepFits(house: House, row: PersonRow, code: string): Promise<boolean> {
  const moment = momentOf(house, row, code);
  if (moment === null) return false;
  const taken = await retrying(() =>
    house.db.manager
      .createQueryBuilder()
      .update(PersonTable)
      .set({ stepUsed: moment })
      .where('id = :id AND (stepUsed IS NULL OR stepUsed < :moment)', { id: row.id, moment })
      .execute(),
  );
  return taken.affected === 1;
}

/** Begins a second step: what an app is given. Nothing is asked for before the app has shown a right code. */
export async function startStep(
  house: House,
  person: Person,
  password: string,
): Promise<{ seed: string; address: string }> {
  if (house.settings.secondStep === 'off' || person.role === 'student') throw new Fault('not-yours');
  const row = await ownRow(house, person, password);
  if (row.stepOn) throw new Fault('step-already-on');
  const seed = new Secret({ size: 20 }).base32;
  await update(house.db.manager, PersonTable, { id: person.id, stepOn: false }, { stepSecret: seed });
  return { seed, address: codesOf(house, person.login, seed).toString() };
}

/** The app shows a right code: from now on one is asked for at every sign-in. */
export async function confirmStep(house: House, person: Person, code: string): Promise<void> {
  const row = (await find(house.db.manager, PersonTable, { id: person.id }))!;
  const right = await tryOwnPassword(house, person.id, () => stepFits(house, row, code));
  if (!right) throw new Fault('wrong-code');
  await update(house.db.manager, PersonTable, { id: person.id }, { stepOn: true });
}

/** No second step any more; the password is asked for, so that a screen left open does not do. */
export async function dropStep(house: House, person: Person, password: string): Promise<void> {
  await ownRow(house, person, password);
  await update(
    house.db.manager,
    PersonTable,
    { id: person.id },
    { stepOn: false, stepSecret: null, stepUsed: null },
  );
}

async function ownRow(house: House, person: Person, password: string): Promise<PersonRow> {
  const row = (await find(house.db.manager, PersonTable, { id: person.id }))!;
  const right = await tryOwnPassword(house, person.id, () => passwordFits(row.passwordHash, password));
  if (!right) throw new Fault('wrong-old-password');
  return row;
}
