import type { DataSource } from 'typeorm';
import { as, readRows } from './pick.ts';

/** How often the two clocks are compared, in milliseconds. */
const COMPARE_MS = 60_000;

/** What the database says the time is. Raw: a select from no table; it shows as well that the database answers. */
export async function databaseNow(db: DataSource): Promise<number> {
  const [row] = readRows(await db.query('SELECT UTC_TIMESTAMP(3) AS now'), { now: as.moment });
  return row!.now;
}

export interface Clock {
  now(): number;
  stop(): void;
}

/**
 * The database's time, told without asking it each time: servers that share a database agree on what is due, late, claimed or silent, whatever the clocks of
 * their own machines say.
 */
export async function databaseClock(db: DataSource): Promise<Clock> {
  let ahead = 0;
  const compare = async () => {
    const before = Date.now();
    const theirs = await databaseNow(db);
    // The answer was made somewhere between the question and its coming.
    ahead = theirs - Math.round((before + Date.now()) / 2);
  };
  await compare();
  const beat = setInterval(() => compare().catch(() => {}), COMPARE_MS);
  beat.unref();
  return { now: () => Date.now() + ahead, stop: () => clearInterval(beat) };
}
