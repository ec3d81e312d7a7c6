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

test('an old school keeps its work when it is brought up to date, and when it goes back', async () => {
  const db = await openDatabase(await freshDatabase());
  while ((await db.query('SELECT COUNT(*) AS n FROM migration'))[0].n > 1) await db.undoLastMigration();
  const sha = 'a'.repeat(64);
  const [person, klass, assignment, copy, document] = ids(5);
  const at = '2026-11-20 10:00:00.000';
  for (const [sql, values] of [
    ['INSERT INTO person VALUES (?, ?, ?, ?, ?, ?, ?)', [person, 'student', 'ada', 'Ada', 'Stone', 'x', at]],
    ['INSERT INTO school_class VALUES (?, ?, ?, ?)', [klass, '7K', 'Maps', at]],
    ['INSERT INTO membership VALUES (?, ?, ?)', [klass, person, 'student']],
    [
      'INSERT INTO assignment VALUES (?, ?, ?, ?, NULL, 1000, ?)',
      [assignment, klass, 'Map work', 'Take a "ruler".', at],
    ],
    ['INSERT INTO blob_file VALUES (?, 3, ?)', [sha, at]],
    ['INSERT INTO copy VALUES (?, ?, ?, NULL, ?)', [copy, assignment, person, document]],
    ['INSERT INTO document VALUES (?, ?, ?, ?, ?, 2, NULL, ?)', [document, copy, 'mine.pdf', sha, sha, at]],
  ] as const)
    await db.query(sql, values as never);
  await db.runMigrations();
  const [now] = await db.query('SELECT instructions, unit, opens_at, for_all FROM assignment');
  expect(JSON.parse(now.instructions)).toEqual({
    type: 'doc',
    content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Take a "ruler".' }] }],
  });
  expect(now).toMatchObject({ unit: 'Maps', for_all: 1, opens_at: new Date('2026-11-20T10:00:00Z') });
  expect(await db.query('SELECT copy_id, document_id, position FROM copy_file')).toEqual([
    { copy_id: copy, document_id: document, position: 0 },
  ]);
  // What the old form cannot hold goes with the new one; the rest is as it was.
  await db.query(
    `INSERT INTO document (id, name, pages, type, shows, url, copy_id, created_at) VALUES (?, 'a link', 0, 'x', 'link', 'https://a.example', ?, ?)`,
    [ids(6)[5], copy, at],
  );
  while ((await db.query('SELECT COUNT(*) AS n FROM migration'))[0].n > 1) await db.undoLastMigration();
  expect(await db.query('SELECT ready_document_id FROM copy')).toEqual([{ ready_document_id: document }]);
  expect(await db.query('SELECT instructions FROM assignment')).toEqual([
    { instructions: 'Take a "ruler".' },
  ]);
  expect(await db.query('SELECT name FROM document')).toEqual([{ name: 'mine.pdf' }]);
  await db.destroy();
});

const ids = (n: number) =>
  Array.from({ length: n }, (_, i) => `01a21263-aab7-77a6-ad1f-cbff6ce69f${String(10 + i)}`);
