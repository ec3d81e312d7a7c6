import { DataSource, type EntitySubscriberInterface, type Logger } from 'typeorm';
import type { Table } from './columns.ts';
import { TABLES } from './entities/index.ts';
import { MIGRATIONS, migrate } from './migrate.ts';
import { retrying } from './transaction.ts';

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
  retryAlone(db);
  // Stored values are read as rows are loaded, once for all tables.
  db.subscribers.push(readsStored);
  if (options.migrate !== false) await migrate(db);
  return db;
}

/**
 * A statement that is no part of a transaction is one of its own, and the database may let it give way to another like any: it is tried again here, for all who
 * ask. What is in a transaction fails with it, and the whole is tried again (`inTransaction`).
 */
function retryAlone(db: DataSource): void {
  const make = db.createQueryRunner.bind(db);
  db.createQueryRunner = (mode) => {
    const runner = make(mode);
    const query = runner.query.bind(runner) as typeof runner.query;
    const again = (...asked: Parameters<typeof query>) =>
      runner.isTransactionActive ? query(...asked) : retrying(() => query(...asked));
    runner.query = again as typeof runner.query;
    return runner;
  };
}

const byName = new Map<string, Table<object>>(TABLES.map((t) => [t.table, t]));

const readsStored: EntitySubscriberInterface = {
  afterLoad(row: object, event): void {
    byName.get(event!.metadata.tableName)?.readInto(row);
  },
};
