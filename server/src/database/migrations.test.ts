import type { DataSource, EntitySchemaColumnOptions, QueryRunner } from 'typeorm';
import { expect, test } from 'vitest';
import { freshDatabase } from '../testing/house.ts';
import { snake } from './columns.ts';
import { openDatabase } from './connect.ts';
import { TABLES } from './entities/index.ts';
import { MIGRATIONS, migrate, migrateDown } from './migrate.ts';

const tablesIn = async (db: DataSource): Promise<string[]> =>
  (await db.query('SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()'))
    .map((r: { name: string }) => r.name)
    .sort();

/** Every column and key of the schema, in words. */
async function schemaOf(db: DataSource): Promise<unknown> {
  const columns = await db.query(
    `SELECT table_name, column_name, column_type, is_nullable, column_default FROM information_schema.columns
     WHERE table_schema = DATABASE() AND table_name <> 'migration' ORDER BY table_name, column_name`,
  );
  const keys = await db.query(
    `SELECT table_name, index_name, GROUP_CONCAT(column_name ORDER BY seq_in_index) AS columns, MAX(non_unique) AS several
     FROM information_schema.statistics WHERE table_schema = DATABASE() AND table_name <> 'migration' GROUP BY table_name, index_name ORDER BY table_name, index_name`,
  );
  const parents = await db.query(
    `SELECT table_name, constraint_name, referenced_table_name FROM information_schema.referential_constraints
     WHERE constraint_schema = DATABASE() ORDER BY table_name, constraint_name`,
  );
  return { columns, keys, parents };
}

const count = async (db: DataSource) => Number((await db.query('SELECT COUNT(*) AS n FROM migration'))[0].n);

test('every migration goes up, down to nothing, and up again to the very same', async () => {
  const db = await openDatabase(await freshDatabase());
  const up = await tablesIn(db);
  expect(up).toEqual(['migration', ...TABLES.map((t) => t.table)].sort());
  const schema = await schemaOf(db);
  await migrateDown(db, MIGRATIONS.length);
  expect(await tablesIn(db)).toEqual(['migration']);
  await migrate(db);
  expect(await schemaOf(db)).toEqual(schema);
  await db.destroy();
}, 120_000);

test('a migration that is killed after whichever of its statements goes on at the next start, up and down', async () => {
  const db = await openDatabase(await freshDatabase());
  const schema = await schemaOf(db);
  await migrateDown(db, MIGRATIONS.length);
  const killedAfter = (most: number, real: QueryRunner): QueryRunner => {
    let left = most;
    return new Proxy(real, {
      get: (target, key) =>
        key === 'query'
          ? (sql: string, values?: unknown[]) => {
              if (!/^\s*SELECT/i.test(sql) && left-- <= 0) throw new Error('killed');
              return target.query(sql, values as never);
            }
          : Reflect.get(target, key),
    });
  };
  const runner = db.createQueryRunner();
  for (const way of ['up', 'down'] as const) {
    const all = MIGRATIONS.map((M) => new M());
    for (const migration of way === 'up' ? all : all.reverse())
      for (let most = 0, killed = true; killed; most++) {
        expect(most).toBeLessThan(200);
        killed = await migration[way](killedAfter(most, runner)).then(
          () => false,
          (error: Error) => {
            if (error.message !== 'killed') throw error;
            return true;
          },
        );
      }
    if (way === 'up') expect(await schemaOf(db)).toEqual(schema);
  }
  await runner.release();
  expect(await tablesIn(db)).toEqual(['migration']);
  await db.destroy();
}, 240_000);

test('servers that start at once bring the schema up to date once', async () => {
  const url = await freshDatabase();
  const all = await Promise.all(Array.from({ length: 4 }, () => openDatabase(url)));
  for (const db of all) {
    expect(await count(db)).toBe(MIGRATIONS.length);
    await db.destroy();
  }
}, 60_000);

test('the tables as the code sees them have the very columns of the database', async () => {
  const db = await openDatabase(await freshDatabase());
  for (const table of TABLES) {
    const rows: { name: string; nullable: string; kind: string }[] = await db.query(
      'SELECT column_name AS name, is_nullable AS nullable, data_type AS kind FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ?',
      [table.table],
    );
    const there = Object.fromEntries(rows.map((r) => [r.name, [r.kind, r.nullable === 'YES']]));
    const meant = Object.fromEntries(
      (Object.entries(table.options.columns) as [string, EntitySchemaColumnOptions][]).map(([key, c]) => [
        snake(key),
        [c.type === 'boolean' ? 'tinyint' : c.type, c.nullable === true],
      ]),
    );
    expect(there, table.table).toEqual(meant);
  }
  await db.destroy();
});

test('an old school keeps its work when it is brought up to date, and when it goes back', async () => {
  const db = await openDatabase(await freshDatabase());
  await migrateDown(db, MIGRATIONS.length - 1);
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
    [
      'INSERT INTO copy (id, assignment_id, student_id, ready_document_id) VALUES (?, ?, ?, ?)',
      [copy, assignment, person, document],
    ],
    ['INSERT INTO document VALUES (?, ?, ?, ?, ?, 2, NULL, ?)', [document, copy, 'mine.pdf', sha, sha, at]],
  ] as const)
    await db.query(sql, values as never);
  await migrate(db);
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
  await migrateDown(db, MIGRATIONS.length - 1);
  expect(await db.query('SELECT ready_document_id FROM copy')).toEqual([{ ready_document_id: document }]);
  expect(await db.query('SELECT instructions FROM assignment')).toEqual([
    { instructions: 'Take a "ruler".' },
  ]);
  expect(await db.query('SELECT name FROM document')).toEqual([{ name: 'mine.pdf' }]);
  await db.destroy();
});

const ids = (n: number) =>
  Array.from({ length: n }, (_, i) => `01a21263-aab7-77a6-ad1f-cbff6ce69f${String(10 + i)}`);
