import type { Db } from './pick.ts';

interface Hanging {
  readonly from: string;
  readonly by: string;
}

/**
 * Deletes rows with all that hangs on them by foreign keys, to any depth. Only for what is to vanish without a trace: everything that names it goes too.
 * What hangs on what is read from the database itself, so that a table that comes later is not forgotten here.
 */
export async function deleteDeep(tx: Db, table: string, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  for (const { from, by } of await hangingOn(tx, table)) {
    if ((await hangingOn(tx, from)).length) {
      const rows = await tx
        .createQueryBuilder()
        .select('x.id', 'id')
        .from(from, 'x')
        .where(`x.${by} IN (:...ids)`, { ids })
        .getRawMany<{ id: string }>();
      await deleteDeep(
        tx,
        from,
        rows.map((r) => r.id),
      );
    }
    await deleteWhere(tx, from, by, ids);
  }
  await deleteWhere(tx, table, 'id', ids);
}

const deleteWhere = (tx: Db, table: string, column: string, ids: readonly string[]) =>
  tx.createQueryBuilder().delete().from(table).where(`${column} IN (:...ids)`, { ids }).execute();

const hangingOn = (tx: Db, table: string): Promise<Hanging[]> =>
  tx
    .createQueryBuilder()
    .select('k.TABLE_NAME', 'from')
    .addSelect('k.COLUMN_NAME', 'by')
    .from('information_schema.KEY_COLUMN_USAGE', 'k')
    .where(
      `k.TABLE_SCHEMA = DATABASE() AND k.REFERENCED_TABLE_NAME = :table AND k.REFERENCED_COLUMN_NAME = 'id'`,
      { table },
    )
    .getRawMany<Hanging>();
