import type { EntityManager } from 'typeorm';
import type { Table } from './columns.ts';

/**
 * Writes are exact: every column of a new row is named, so that a column that comes later cannot be forgotten where rows are made.
 * Nothing is read back.
 */
export async function insert<T extends object>(
  db: EntityManager,
  into: Table<T>,
  rows: T | readonly T[],
): Promise<void> {
  await inserting(db, into, rows).execute();
}

/** The same where a row may be there already: it stays as it is. Gives how many were new. */
export async function insertNew<T extends object>(
  db: EntityManager,
  into: Table<T>,
  rows: T | readonly T[],
): Promise<number> {
  const done = await inserting(db, into, rows).orIgnore().execute();
  return Number((done.raw as { affectedRows?: number }).affectedRows ?? 0);
}

/** The same where a row with this key may be there already: these columns of it are written anew. */
export async function insertOrUpdate<T extends object>(
  db: EntityManager,
  into: Table<T>,
  rows: T | readonly T[],
  columns: readonly (keyof T & string)[],
): Promise<void> {
  const names = columns.map((c) => into.options.columns[c]!.name ?? c);
  await inserting(db, into, rows).orUpdate(names).execute();
}

function inserting<T extends object>(db: EntityManager, into: Table<T>, rows: T | readonly T[]) {
  return (
    db
      .createQueryBuilder()
      .insert()
      .into(into)
      // biome-ignore lint/suspicious/noExplicitAny: TypeORM's deep partial is wider than the row type it is given
      .values(rows as any)
      .updateEntity(false)
  );
}

/** Changes the rows that match all of `where`; gives how many there were. Nothing matches an undefined value. */
export async function update<T extends object>(
  db: EntityManager,
  table: Table<T>,
  where: Partial<T>,
  set: Partial<T>,
): Promise<number> {
  // biome-ignore lint/suspicious/noExplicitAny: see above
  const done = await db.getRepository(table).update(where as any, set as any);
  return done.affected ?? 0;
}

/** Deletes the rows that match all of `where`; gives how many there were. */
export async function remove<T extends object>(
  db: EntityManager,
  table: Table<T>,
  where: Partial<T>,
): Promise<number> {
  // biome-ignore lint/suspicious/noExplicitAny: see above
  const done = await db.getRepository(table).delete(where as any);
  return done.affected ?? 0;
}

/** The row with this key, or null. */
export function find<T extends object>(
  db: EntityManager,
  table: Table<T>,
  where: Partial<T>,
): Promise<T | null> {
  // biome-ignore lint/suspicious/noExplicitAny: see above
  return db.getRepository(table).findOne({ where: where as any });
}

/** Takes the lock on one row and gives it as it stands then, or null. What is read after this is the newest. */
export function lock<T extends object>(
  tx: EntityManager,
  table: Table<T>,
  where: Partial<T>,
): Promise<T | null> {
  return tx.getRepository(table).findOne({
    // biome-ignore lint/suspicious/noExplicitAny: see above
    where: where as any,
    lock: { mode: 'pessimistic_write' },
  });
}
