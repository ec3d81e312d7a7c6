import type { QueryRunner } from 'typeorm';

/**
 * MariaDB commits every change of a table's form at once, so a migration that is killed half way stays half done. Each step here can therefore run again:
 * it looks whether it has been done, and the next start goes on from there.
 */
export const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
export const SHA = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
export const MOMENT = 'DATETIME(3)';

export type Tables = readonly [table: string, columns: string][];

export async function createTables(runner: QueryRunner, tables: Tables): Promise<void> {
  for (const [table, columns] of tables)
    await runner.query(`CREATE TABLE IF NOT EXISTS ${table} (${columns}) ENGINE=InnoDB`);
}

/** In the order that undoes their making. */
export async function dropTables(runner: QueryRunner, tables: Tables): Promise<void> {
  for (const [table] of tables.toReversed()) await runner.query(`DROP TABLE IF EXISTS ${table}`);
}

export async function hasTable(runner: QueryRunner, table: string): Promise<boolean> {
  const rows: unknown[] = await runner.query(
    'SELECT 1 FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = ?',
    [table],
  );
  return rows.length > 0;
}

export async function hasColumn(runner: QueryRunner, table: string, column: string): Promise<boolean> {
  const rows: unknown[] = await runner.query(
    'SELECT 1 FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? AND column_name = ?',
    [table, column],
  );
  return rows.length > 0;
}

export async function primaryKeyOf(runner: QueryRunner, table: string): Promise<string> {
  const rows: { name: string }[] = await runner.query(
    `SELECT column_name AS name FROM information_schema.key_column_usage
     WHERE table_schema = DATABASE() AND table_name = ? AND constraint_name = 'PRIMARY' ORDER BY ordinal_position`,
    [table],
  );
  return rows.map((r) => r.name).join();
}

/** Goes through all rows of a table in bites, by its key, so that no table has to fit into memory. */
export async function eachRow(
  runner: QueryRunner,
  table: string,
  keys: readonly string[],
  columns: readonly string[],
  where: string,
  work: (row: Record<string, string | null>) => Promise<void>,
): Promise<void> {
  let after: string[] | null = null;
  for (;;) {
    const from: string = after ? ` AND (${keys.join(', ')}) > (${keys.map(() => '?').join(', ')})` : '';
    const rows: Record<string, string | null>[] = await runner.query(
      `SELECT ${[...keys, ...columns].join(', ')} FROM ${table} WHERE (${where})${from} ORDER BY ${keys.join(', ')} LIMIT 100`,
      after ?? [],
    );
    for (const row of rows) await work(row);
    const last = rows.at(-1);
    if (!last) return;
    after = keys.map((k) => last[k]!);
  }
}
