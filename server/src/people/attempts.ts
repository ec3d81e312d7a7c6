import { ADDRESS, FORGOTTEN_MS, type HoldUp, LOGIN, PAIR, type PersonId, waitAfter } from '@jotmark/core';
import { LessThan } from 'typeorm';
import { type AttemptRow, AttemptTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction, retrying } from '../database/transaction.ts';
import { find, insertNew, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

interface Counted {
  readonly name: string;
  readonly holdUp: HoldUp;
}

const MOST_NAME = 190;
const counted = (name: string, holdUp: HoldUp): Counted => ({ name: name.slice(0, MOST_NAME), holdUp });

/** Who guesses: at which login, from which address, and whether in a browser in which they have signed in before. */
export interface Guess {
  readonly login: string;
  readonly address: string;
  /** The browser's own digest; null: it is a new one. */
  readonly knownDevice: string | null;
}

/** Whether a password was right. */
type Try = () => Promise<boolean>;

/**
 * Tries a password, unless it is too soon after wrong ones. Each try is counted before it is made, so that many at once are not free, and given back
 * when it was right or could not be made at all. A browser in which this person has signed in before is counted by itself alone: what others do in
 * their name does not hold it up. Counted in the database: all servers count together and a restart forgets nothing.
 */
export async function tryPassword(house: House, guess: Guess, isRight: Try): Promise<boolean> {
  const login = guess.login.toLowerCase();
  if (guess.knownDevice) return counting(house, [counted(`device:${guess.knownDevice}`, PAIR)], isRight);
  const address = counted(`address:${guess.address}`, ADDRESS);
  // A school's one address is only looked at here, and counted when a password was wrong: three hundred who sign in at once do not wait for each other.
  mustNotWait(await find(house.db.manager, AttemptTable, { name: address.name }), address, house.now());
  const right = await counting(
    house,
    [counted(`login:${login}`, LOGIN), counted(`pair:${login}|${guess.address}`, PAIR)],
    isRight,
  );
  if (!right) await inTransaction(house.db, (tx) => count(tx, address, house.now()));
  return right;
}

/** The same for somebody who is signed in and says their password once more. */
export const tryOwnPassword = (house: House, person: PersonId, isRight: Try): Promise<boolean> =>
  counting(house, [counted(`own:${person}`, PAIR)], isRight);

async function counting(house: House, all: readonly Counted[], isRight: Try): Promise<boolean> {
  const now = house.now();
  await inTransaction(house.db, async (tx) => {
    for (const c of all) await reserve(tx, c, now);
  });
  let right = false;
  let made = false;
  try {
    right = await isRight();
    made = true;
  } finally {
    if (right || !made)
      await retrying(async () => {
        for (const { name } of all) await giveBack(house.db.manager, name, right);
      });
  }
  return right;
}

/** Counts one try in, or refuses it. Whoever comes at the same moment waits for the row. */
async function reserve(tx: Db, c: Counted, now: number): Promise<void> {
  mustNotWait(await rowOf(tx, c, now), c, now);
  await count(tx, c, now);
}

async function count(tx: Db, c: Counted, now: number): Promise<void> {
  const row = await rowOf(tx, c, now);
  const hits = (row.resetAt <= now ? 0 : row.hits) + 1;
  await update(tx, AttemptTable, { name: c.name }, { hits, lastAt: now, resetAt: now + FORGOTTEN_MS });
}

async function rowOf(tx: Db, { name }: Counted, now: number): Promise<AttemptRow> {
  const row = await lock(tx, AttemptTable, { name });
  if (row) return row;
  await insertNew(tx, AttemptTable, { name, hits: 0, resetAt: now + FORGOTTEN_MS, lastAt: null });
  return (await lock(tx, AttemptTable, { name }))!;
}

function mustNotWait(row: AttemptRow | null, { holdUp }: Counted, now: number): void {
  if (!row || row.resetAt <= now || row.lastAt === null) return;
  const left = row.lastAt + waitAfter(row.hits, holdUp) - now;
  if (left > 0) throw new Fault('too-many-attempts', { seconds: Math.ceil(left / 1000) });
}

/** Who was right begins anew, where it was they alone who were counted; of a login that others guess at too only this one try is taken back. */
async function giveBack(db: Db, name: string, right: boolean): Promise<void> {
  if (right && !name.startsWith('login:')) {
    await remove(db, AttemptTable, { name });
    return;
  }
  await db
    .createQueryBuilder()
    .update(AttemptTable)
    .set({ hits: () => 'GREATEST(0, hits - 1)' })
    .where('name = :name', { name })
    .execute();
}

/** What is forgotten by now goes. */
export async function sweepAttempts(house: House): Promise<void> {
  await house.db.manager.getRepository(AttemptTable).delete({ resetAt: LessThan(house.now()) });
}
