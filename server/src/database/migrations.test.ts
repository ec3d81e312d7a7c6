import type { DataSource } from 'typeorm';
import { expect, test } from 'vitest';
import { freshDatabase } from '../testing/house.ts';
import { openDatabase } from './connect.ts';
import { TABLES } from './tables.ts';

const tablesIn = async (db: DataSource): Promise<string[]> =>
  (await db.query('SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()'))
    .map((r: { name: string }) => r.name)
    .sort();

test('every migration goes up, down to nothing, and up again', async () => {
  const db = await openDatabase(await freshDatabase());
  const up = await tablesIn(db);
  expect(up).toEqual(['migration', ...TABLES.map((t) => t.options.name)].sort());
  while ((await db.query('SELECT COUNT(*) AS n FROM migration'))[0].n > 0) await db.undoLastMigration();
  expect(await tablesIn(db)).toEqual(['migration']);
  await db.runMigrations();
  expect(await tablesIn(db)).toEqual(up);
  await db.destroy();
});

test('the tables as the code sees them have the very columns of the database', async () => {
  const db = await openDatabase(await freshDatabase());
  for (const table of TABLES) {
    const rows: { name: string; nullable: string; kind: string }[] = await db.query(
      'SELECT column_name AS name, is_nullable AS nullable, data_type AS kind FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ?',
      [table.options.name],
    );
    const there = Object.fromEntries(rows.map((r) => [r.name, [r.kind, r.nullable === 'YES']]));
    const meant = Object.fromEntries(
      Object.entries(table.options.columns).map(([name, c]) => [
        name,
        [c!.type === 'boolean' ? 'tinyint' : c!.type, c!.nullable === true],
      ]),
    );
    expect(there, table.options.name).toEqual(meant);
  }
  await db.destroy();
});
