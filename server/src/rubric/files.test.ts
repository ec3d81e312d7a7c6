import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { type GridShape, newRubric, type Rubric, readCsv, readGrid, rubricOf } from '@jotmark/core';
import { ZipArchive } from 'archiver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { type MadeSheets, makeSheets } from '../testing/made-sheets.ts';
import { id } from '../testing/marks.ts';

const run = promisify(execFile);
let running: Running;
let teacher: Caller;
let made: MadeSheets;
let folder: string;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
  const school = await smallClass(running);
  teacher = await new Caller(running.address).signIn(school.teacher.login);
  made = await makeSheets(new URL('../../../.test/sheets', import.meta.url).pathname);
  folder = await mkdtemp(join(tmpdir(), 'jotmark-rubric-'));
});
afterAll(async () => {
  await running.stop();
  await rm(folder, { recursive: true, force: true });
});

async function read(name: string, bytes: Uint8Array): Promise<{ status: number; body: Loose }> {
  const form = new FormData();
  form.append('file', new Blob([bytes as Uint8Array<ArrayBuffer>]), name);
  const response = await teacher.raw('POST', '/api/tables', { body: form });
  return { status: response.status, body: await response.json() };
}
const rubricIn = (table: GridShape) => {
  const found = readGrid(table);
  if (!found.ok) throw new Error(found.reason);
  return found;
};
const tablesIn = async (path: string): Promise<GridShape[]> =>
  (await read(path.split('/').at(-1)!, await readFile(path))).body.tables;
const levels = (c: { levels: readonly { name: string; points: number | null }[] }) =>
  c.levels.map((l) => [l.name, l.points]);

describe('rubrics out of files that LibreOffice made', () => {
  test('ods: criteria down, the best level first, weights; its name stands above it', async () => {
    const found = rubricIn((await tablesIn(made.ods))[0]!);
    expect(found.name).toBe('Telling a walk');
    expect(found.understood).toEqual({ criteria: 'down', points: 'heads', bestFirst: true, weights: true });
    expect(found.criteria.map((c) => [c.name, c.weight])).toEqual([
      ['Describes the way', 300],
      ['Reads the map', 150],
    ]);
    expect(levels(found.criteria[0]!)).toEqual([
      ['Begins', 100],
      ['Can', 200],
      ['Can well', 300],
    ]);
  });

  test('xlsx: criteria across, a decimal comma, a formula told by its cell; another sheet beside it', async () => {
    const tables = await tablesIn(made.xlsx);
    expect(tables.map((t) => t.name)).toEqual(['Notes', 'Rubric']);
    const found = rubricIn(tables[1]!);
    expect(found.understood).toMatchObject({ criteria: 'across', points: 'line' });
    expect(found.criteria.map((c) => c.name)).toEqual(['Describes', 'Measures']);
    expect(levels(found.criteria[0]!)).toEqual([
      ['Begins', 50],
      ['Can', 200],
      ['Can well', 300],
    ]);
    expect(found.troubles).toContainEqual({ cell: 'B3', what: 'formula', said: '2' });
  });

  test('csv with semicolons: points in the cells', async () => {
    const found = rubricIn((await tablesIn(made.csv))[0]!);
    expect(found.understood).toMatchObject({ criteria: 'down', points: 'cells' });
    expect(found.criteria[1]!.levels.map((l) => [l.points, l.descriptor])).toEqual([
      [0, 'Far off'],
      [100, 'Nearly'],
      [200, 'On time'],
    ]);
  });

  test('the table of a docx, and of an odt', async () => {
    for (const path of [made.docx, made.odt]) {
      const found = rubricIn((await tablesIn(path))[0]!);
      expect(found.criteria.map((c) => c.name)).toEqual(['Describes', 'Measures']);
      expect(found.criteria[0]!.levels[1]).toMatchObject({
        name: 'Can',
        points: 200,
        descriptor: 'One can follow',
      });
    }
  });
});

describe('what is written out', () => {
  const told = (r: Pick<Rubric, 'criteria'>) =>
    r.criteria.map((c) => [c.name, c.weight, c.levels.map((l) => [l.name, l.points, l.descriptor])]);

  test('comes in again as it was, in each form; LibreOffice reads it, and nothing in it is a formula', async () => {
    const plain = newRubric(() => id());
    const words = ['=1+1', 'with, comma; and “quotes”', 'two\nlines', 'Ünal'];
    const first = plain.criteria[0]!;
    const rubric = rubricOf(
      [
        {
          ...first,
          name: 'Describes',
          levels: first.levels.map((l, i) => ({ ...l, descriptor: words[i]! })),
        },
        { ...first, name: 'Measures', weight: 150 },
      ],
      () => id(),
    );
    const { body } = await teacher.call('makeRubric', { body: { name: 'Walks', rubric } });
    for (const as of ['csv', 'xlsx', 'ods'] as const) {
      const file = await teacher.raw('GET', `/api/rubrics/${body.id}/file?as=${as}`);
      expect(file.headers.get('content-disposition'), as).toContain(`Walks.${as}`);
      const bytes = new Uint8Array(await file.arrayBuffer());
      const again = rubricIn((await read(`Walks.${as}`, bytes)).body.tables[0]);
      expect(told(again as unknown as Rubric), as).toEqual(told(rubric));
      await writeFile(join(folder, `out-${as}.${as}`), bytes);
      await run('soffice', [
        `-env:UserInstallation=file://${join(folder, 'profile')}`,
        '--headless',
        '--convert-to',
        'csv:Text - txt - csv (StarCalc):44,34,76',
        '--outdir',
        join(folder, as),
        join(folder, `out-${as}.${as}`),
      ]);
      const csv = await readFile(join(folder, as, `out-${as}.csv`), 'utf8');
      const seen = readCsv(csv, 50).cells.flat();
      expect(seen, as).toContain('Measures');
      expect(
        seen.some((c) => c.trim() === '2'),
        as,
      ).toBe(false);
    }
  });
});

describe('files that are no rubric', () => {
  const why = async (name: string, bytes: Uint8Array) => {
    const { status, body } = await read(name, bytes);
    return [status, body.error?.code, body.error?.facts?.why ?? null];
  };
  const text = (words: string) => new TextEncoder().encode(words);
  const zipped = async (parts: Record<string, Buffer>): Promise<Uint8Array> => {
    const zip = new ZipArchive({ zlib: { level: 9 } });
    for (const [name, bytes] of Object.entries(parts)) zip.append(bytes, { name });
    zip.finalize();
    const chunks: Buffer[] = [];
    for await (const chunk of zip) chunks.push(chunk as Buffer);
    return new Uint8Array(Buffer.concat(chunks));
  };

  test('each gets a code that says why, and nothing is kept', async () => {
    // What a spreadsheet with a password is outside: the compound file of old, with its contents locked in one part.
    const ole = [0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1];
    const locked = Buffer.concat([
      Buffer.from(ole),
      Buffer.alloc(500),
      Buffer.from('EncryptedPackage', 'utf16le'),
    ]);
    expect(await why('locked.xlsx', locked)).toEqual([422, 'no-table', 'password']);
    const manifest = Buffer.from('<manifest:manifest><manifest:encryption-data/></manifest:manifest>');
    const ods = await zipped({ 'META-INF/manifest.xml': manifest, 'content.xml': Buffer.from('x') });
    expect(await why('locked.ods', ods)).toEqual([422, 'no-table', 'password']);
    expect(await why('old.xls', new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 1, 2, 3, 4]))).toEqual([
      422,
      'no-table',
      'old',
    ]);
    expect(await why('empty.csv', text('\n\n,,\n'))).toEqual([422, 'no-table', 'none']);
    expect(await why('long.csv', text('a;b\n'.repeat(100_000)))).toEqual([422, 'no-table', 'too-big']);
    expect(await why('wide.csv', text(`${'a;'.repeat(500)}\n1;2\n`))).toEqual([422, 'no-table', 'too-big']);
    expect(await why('half.xlsx', (await readFile(made.xlsx)).subarray(0, 2000))).toEqual([
      422,
      'no-table',
      'broken',
    ]);
    expect(await why('photo.jpg', new Uint8Array([0xff, 0xd8, 0xff, 0, 0, 0, 7]))).toEqual([
      422,
      'no-table',
      'kind',
    ]);
    const zeros = Buffer.alloc(100 * 1024 * 1024);
    expect(await why('bomb.ods', await zipped({ 'content.xml': zeros }))).toEqual([422, 'file-bomb', null]);
    const lying = Buffer.from(
      await zipped({
        'xl/workbook.xml': Buffer.from('x'),
        'xl/sharedStrings.xml': zeros,
      }),
    );
    // Its directory says that each part unpacks to ten bytes.
    for (let at = lying.indexOf('PK\x01\x02'); at >= 0; at = lying.indexOf('PK\x01\x02', at + 4))
      lying.writeUInt32LE(10, at + 24);
    expect(await why('lying.xlsx', lying)).toEqual([422, 'no-table', 'broken']);
    const lines = `<w:tr><w:tc><w:p><w:r><w:t>x</w:t></w:r></w:p></w:tc></w:tr>`.repeat(100_000);
    const long = Buffer.from(`<w:document xmlns:w="w"><w:body><w:tbl>${lines}</w:tbl></w:body></w:document>`);
    expect(await why('long.docx', await zipped({ 'word/document.xml': long }))).toEqual([
      422,
      'no-table',
      'too-big',
    ]);
  });

  test('a table that is no rubric is read, and said to be none', async () => {
    const { body } = await read('one.csv', text('just one cell'));
    expect(readGrid(body.tables[0])).toEqual({ ok: false, reason: 'no-table' });
  });
});
