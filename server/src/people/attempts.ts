import { ADDRESS, FORGOTTEN_MS, type HoldUp, LOGIN, PAIR, type PersonId, waitAfter } from '@jotmark/core';
import { LessThan } from 'typeorm';
import { type AttemptRow, AttemptTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insertOrUpdate, lock, remove, update } from '../database/write.ts';
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
 * Tries a password, unless it is too soon after wrong ones. Tries at one login from one address come one after another: a hundred at the same moment are
 * counted like a hundred in a row, and right ones only wait for their turn. A browser in which this person has signed in before is counted by itself alone: what
 * others do in their name does not hold it up. Counted in the database: all servers count together and a restart forgets nothing.
 */
export function tryPassword(house: House, guess: Guess, isRight: Try): Promise<boolean> {
  const login = guess.login.toLowerCase();
  const own = counted(
    guess.knownDevice ? `device:${guess.knownDevice}` : `pair:${login}|${guess.address}`,
    PAIR,
  );
  const shared = guess.knownDevice
    ? []
    : [counted(`login:${login}`, LOGIN), counted(`address:${guess.address}`, ADDRESS)];
  return inTurn(house, own, () => tried(house, own, shared, isRight));
}

/** The same for somebody who is signed in and says their password once more. */
export function tryOwnPassword(house: House, person: PersonId, isRight: Try): Promise<boolean> {
  const own = counted(`own:${person}`, PAIR);
  return inTurn(house, own, () => tried(house, own, [], isRight));
}

async function tried(house: House, own: Counted, shared: readonly Counted[], isRight: Try): Promise<boolean> {
  const db = house.db.manager;
  const before = await find(db, AttemptTable, { name: own.name });
  mustNotWait(before, own, house.now());
  for (const c of shared) mustNotWait(await find(db, AttemptTable, { name: c.name }), c, house.now());
  const right = await isRight();
  if (!right)
    await inTransaction(house.db, async (tx) => {
      // In one order for everybody.
      for (const c of [own, ...shared].toSorted((x, y) => (x.name < y.name ? -1 : 1)))
        await countWrong(tx, c, house.now());
    });
  // Who was right begins anew; of what others share it is not theirs to say.
  else if (before) await remove(db, AttemptTable, { name: own.name });
  return right;
}

/** Tries that wait for their turn, by what they are counted by. Each takes a tenth of a second, so that more are none of a person's. */
const turns = new WeakMap<House, Map<string, { last: Promise<unknown>; waiting: number }>>();
const MOST_WAITING = 100;

async function inTurn(house: House, { name }: Counted, work: Try): Promise<boolean> {
  const all = turns.get(house) ?? new Map<string, { last: Promise<unknown>; waiting: number }>();
  turns.set(house, all);
  const line = all.get(name) ?? { last: Promise.resolve(), waiting: 0 };
  all.set(name, line);
  if (line.waiting >= MOST_WAITING) throw new Fault('too-many-attempts', { seconds: 10 });
  line.waiting++;
  const mine = line.last.then(work, work);
  line.last = mine.catch(() => {});
  try {
    return await mine;
  } finally {
    line.waiting--;
    if (line.waiting === 0) all.delete(name);
  }
}

async function countWrong(tx: Db, { name }: Counted, now: number): Promise<void> {
  const resetAt = now + FORGOTTEN_MS;
  // See `limits.ts`: its lock from the beginning.
  await insertOrUpdate(tx, AttemptTable, { name, hits: 0, resetAt, lastAt: null }, ['name']);
  const row = (await lock(tx, AttemptTable, { name }))!;
  const hits = (row.resetAt <= now ? 0 : row.hits) + 1;
  await update(tx, AttemptTable, { name }, { hits, lastAt: now, resetAt });
}

function mustNotWait(row: AttemptRow | null, { holdUp }: Counted, now: number): void {
  if (!row || row.resetAt <= now || row.lastAt === null) return;
  const left = row.lastAt + waitAfter(row.hits, holdUp) - now;
  if (left > 0) throw new Fault('too-many-attempts', { seconds: Math.ceil(left / 1000) });
}

/** What is forgotten by now goes. */
export async function sweepAttempts(house: House): Promise<void> {
  await house.db.manager.getRepository(AttemptTable).delete({ resetAt: LessThan(house.now()) });
}
