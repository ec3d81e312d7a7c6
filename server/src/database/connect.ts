import { DataSource, type Logger } from 'typeorm';
import { FirstSlice1764028800000 } from './migrations/1764028800000-first-slice.ts';
import { SettingWork1764075600000 } from './migrations/1764075600000-setting-work.ts';
import { Live1764090000000 } from './migrations/1764090000000-live.ts';
import { DeskHand1764100800000 } from './migrations/1764100800000-desk-hand.ts';
import { TABLES } from './tables.ts';

export const MIGRATIONS = [
  FirstSlice1764028800000,
  SettingWork1764075600000,
  Live1764090000000,
  DeskHand1764100800000,
];

/** Opens the database at a mysql:// or mariadb:// address and brings its schema up to date. */
export async function openDatabase(
  url: string,
  options: { migrate?: boolean; logger?: Logger; connections?: number } = {},
): Promise<DataSource> {
  const db = new DataSource({
    type: 'mariadb',
    url: url.replace(/^mysql:/, 'mariadb:'),
    entities: TABLES,
    migrations: MIGRATIONS,
    migrationsTableName: 'migration',
    synchronize: false,
    timezone: 'Z',
    charset: 'utf8mb4_unicode_ci',
    ...(options.logger ? { logging: 'all' as const, logger: options.logger } : {}),
    extra: { connectionLimit: options.connections ?? 10, decimalNumbers: true },
  });
  await db.initialize();
  if (options.migrate !== false) await db.runMigrations({ transaction: 'each' });
  return db;
}
