import { DataSource, type EntitySubscriberInterface, type Logger } from 'typeorm';
import type { Table } from './columns.ts';
import { TABLES } from './entities/index.ts';
import { MIGRATIONS, migrate } from './migrate.ts';

export interface Opening {
  /** Brings the schema up to date first; a server does, a program that only looks does not. */
  readonly migrate?: boolean;
  readonly logger?: Logger;
  readonly connections?: number;
}

/** Opens the database at a mysql:// or mariadb:// address. */
export async function openDatabase(url: string, options: Opening = {}): Promise<DataSource> {
  const db = new DataSource({
    type: 'mariadb',
    url: url.replace(/^mysql:/, 'mariadb:'),
    entities: [...TABLES],
    migrations: MIGRATIONS,
    migrationsTableName: 'migration',
    synchronize: false,
    timezone: 'Z',
    charset: 'utf8mb4_unicode_ci',
    ...(options.logger ? { logging: 'all' as const, logger: options.logger } : {}),
    extra: { connectionLimit: options.connections ?? 10, decimalNumbers: true },
  });
  await db.initialize();
  // Stored values are read as rows are loaded, once for all tables.
  db.subscribers.push(readsStored);
  if (options.migrate !== false) await migrate(db);
  return db;
}

const byName = new Map<string, Table<object>>(TABLES.map((t) => [t.table, t]));

const readsStored: EntitySubscriberInterface = {
  afterLoad(row: object, event): void {
    byName.get(event!.metadata.tableName)?.readInto(row);
  },
};
