import { randomFillSync } from 'node:crypto';
import { makeId } from '@jotmark/core';
import type { Pool } from 'mysql2/promise';
import type { Logger } from 'pino';
import type { DataSource } from 'typeorm';
import type { Settings } from './settings.ts';

/** What every part of the server is given: the database, the settings, and the clock: the database's, and tests can set it. */
export interface House {
  readonly db: DataSource;
  /** Connections for saves, see `database/batch-pool.ts`. */
  readonly batches: Pool;
  readonly settings: Settings;
  readonly log: Logger;
  now(): number;
}

const RANDOM_BYTES = 10;
const random = Buffer.alloc(256 * RANDOM_BYTES);
let used = random.length;

/** A new id. Random bytes are drawn for many at once: one by one they cost as much as the row they name (bench: handing out 1,000 copies). */
export function newId<T extends string>(house: House): T {
  if (used === random.length) {
    randomFillSync(random);
    used = 0;
  }
  const own = random.subarray(used, used + RANDOM_BYTES);
  used += RANDOM_BYTES;
  return makeId(house.now(), own) as T;
}
