import type { DataSource, QueryRunner } from 'typeorm';
import { FirstSlice1764028800000 } from './migrations/1764028800000-first-slice.ts';
import { SettingWork1764075600000 } from './migrations/1764075600000-setting-work.ts';
import { Live1764090000000 } from './migrations/1764090000000-live.ts';
import { DeskHand1764100800000 } from './migrations/1764100800000-desk-hand.ts';
import { FirmGround1764187200000 } from './migrations/1764187200000-firm-ground.ts';
import { Bank1764273600000 } from './migrations/1764273600000-bank.ts';
import { Words1764360000000 } from './migrations/1764360000000-words.ts';
import { Voice1764446400000 } from './migrations/1764446400000-voice.ts';
import { Scores1764532800000 } from './migrations/1764532800000-scores.ts';
import { HandingBack1764619200000 } from './migrations/1764619200000-handing-back.ts';
import { CoverSheet1764705600000 } from './migrations/1764705600000-cover-sheet.ts';
import { HandedInFor1764792000000 } from './migrations/1764792000000-handed-in-for.ts';
import { Trial1764878400000 } from './migrations/1764878400000-trial.ts';
import { Writing1764964800000 } from './migrations/1764964800000-writing.ts';
import { Together1765051200000 } from './migrations/1765051200000-together.ts';
import { MarkBook1765137600000 } from './migrations/1765137600000-mark-book.ts';
import { Log1765224000000 } from './migrations/1765224000000-log.ts';
import { OwnPassword1765310400000 } from './migrations/1765310400000-own-password.ts';
import { Hardened1765396800000 } from './migrations/1765396800000-hardened.ts';
import { JoinCode1765483200000 } from './migrations/1765483200000-join-code.ts';

export const MIGRATIONS = [
  FirstSlice1764028800000,
  SettingWork1764075600000,
  Live1764090000000,
  DeskHand1764100800000,
  FirmGround1764187200000,
  Bank1764273600000,
  Words1764360000000,
  Voice1764446400000,
  Scores1764532800000,
  HandingBack1764619200000,
  CoverSheet1764705600000,
  HandedInFor1764792000000,
  Trial1764878400000,
  Writing1764964800000,
  Together1765051200000,
  MarkBook1765137600000,
  Log1765224000000,
  OwnPassword1765310400000,
  Hardened1765396800000,
  JoinCode1765483200000,
];

/** As long as another server may take to bring the schema up to date, in seconds. */
const WAIT_S = 600;

/** Brings the schema up to date. Servers that start at once take turns: one does it, the others find it done. */
export async function migrate(db: DataSource): Promise<void> {
  await locked(db, () => db.runMigrations({ transaction: 'each' }));
}

/** Takes the newest migrations back, one by one. What the older form cannot hold goes; each says what. */
export async function migrateDown(db: DataSource, steps: number): Promise<void> {
  await locked(db, async () => {
    for (let i = 0; i < steps; i++) await db.undoLastMigration({ transaction: 'each' });
  });
}

/** The lock is the database's own and belongs to one connection: a server that dies while it migrates lets go of it. */
async function locked(db: DataSource, work: () => Promise<unknown>): Promise<void> {
  const runner: QueryRunner = db.createQueryRunner();
  try {
    const [row] = await runner.query(
      `SELECT GET_LOCK(CONCAT('jotmark-migrate-', MD5(DATABASE())), ?) AS got`,
      [WAIT_S],
    );
    if (Number(row.got) !== 1)
      throw new Error(
        'Another server has been bringing the database up to date for ten minutes. Try again later.',
      );
    await work();
    await runner.query(`SELECT RELEASE_LOCK(CONCAT('jotmark-migrate-', MD5(DATABASE())))`);
  } finally {
    await runner.release();
  }
}
