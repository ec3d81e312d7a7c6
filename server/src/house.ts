import { randomBytes } from 'node:crypto';
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

export function newId<T extends string>(house: House): T {
  return makeId(house.now(), randomBytes(10)) as T;
}
