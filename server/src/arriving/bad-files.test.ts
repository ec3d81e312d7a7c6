import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { tidyName } from '../blobs/file-name.ts';
import type { Running } from '../serve.ts';
import { Caller, readingDone, smallClass, testServer } from '../testing/house.ts';
import { heavyPdf, pdfWithPage, plainPdf, scriptedPdf } from '../testing/pdfs.ts';

let running: Running;
let student: Caller;
let copyId: string;
const folder = mkdtempSync(join(tmpdir(), 'jotmark-test-'));
beforeAll(async () => {
  running = await testServer();
  const school = await smallClass(running);
  student = await new Caller(running.address).signIn(school.students[0]!.login);
  copyId = school.copyOf(0);
});
afterAll(() => running.stop());

/** Runs qpdf over a PDF and gives what it made. */
function qpdf(bytes: Uint8Array, ...args: string[]): Uint8Array {
  const from = join(folder, 'from.pdf');
  const to = join(folder, 'to.pdf');
  writeFileSync(from, bytes);
  execFileSync('qpdf', [...args, from, to]);
  return new Uint8Array(readFileSync(to));
}

const stored = async () =>
  (
    await running.house.db.query(
      'SELECT (SELECT COUNT(*) FROM document) AS documents, (SELECT COUNT(*) FROM blob_file) AS files',
    )
  )[0];

describe('a file that cannot be taken is refused with a code and its name, and leaves nothing behind', () => {
  test.each([
    ['empty', 'file-empty', async () => new Uint8Array()],
    ['truncated', 'file-damaged', async () => (await plainPdf(['much to say'], 12)).subarray(0, 2000)],
    ['a header and nothing behind it', 'file-damaged', async () => new TextEncoder().encode('%PDF-1.7\n')],
    [
      'asking for a password',
      'file-password',
      async () => qpdf(await plainPdf(), '--encrypt', 'open', 'owner', '256', '--'),
    ],
    ['of 5,000 pages', 'file-too-many-pages', async () => manyPages(5000)],
    ['with a page 200 metres long', 'file-page-too-big', () => pdfWithPage(595, 600_000)],
  ] as const)('%s', async (_, code, make) => {
    writeFileSync(join(folder, 'one.pdf'), await plainPdf());
    const bytes = await make();
    const before = await stored();
    const reply = await student.upload(copyId, bytes, 'work.pdf');
    expect(reply.body).toMatchObject({ error: { code, facts: { name: 'work.pdf' } } });
    expect(await stored()).toEqual(before);
  });

  test('larger than 50 MB', async () => {
    const reply = await student.upload(copyId, new Uint8Array(50 * 1024 * 1024 + 1).fill(37), 'big.pdf');
    expect(reply).toMatchObject({ status: 413, body: { error: { code: 'file-too-big' } } });
  });

  test('no file at all', async () => {
    expect(await student.call('addFile', { params: { copyId } })).toMatchObject({ status: 400 });
  });

  test('an upload cut off half way keeps nothing, and what lay ready still does', async () => {
    const { body: ready } = await student.upload(copyId, await plainPdf(), 'first.pdf');
    const cookie = await cookieOf();
    const before = await stored();
    const folders = async () => (await readdir(tmpdir())).filter((f) => f.startsWith('jotmark-in-'));
    const foldersBefore = await folders();
    await new Promise<void>((resolve) => {
      const sending = request(`${running.address}/api/work/${copyId}/files`, {
        method: 'POST',
        headers: { ...cookie, 'content-type': 'multipart/form-data; boundary=x', 'content-length': '100000' },
      });
      sending.on('error', () => resolve());
      sending.write(
        '--x\r\nContent-Disposition: form-data; name="file"; filename="half.pdf"\r\nContent-Type: application/pdf\r\n\r\n%PDF-1.7 half of it',
        () => sending.destroy(),
      );
    });
    expect(
      (await student.call('work', { params: { copyId } })).body.files.map((f: { id: string }) => f.id),
    ).toContain(ready.id);
    expect(await stored()).toEqual(before);
    await expect.poll(folders, { timeout: 10_000 }).toEqual(foldersBefore);
  });
});

/** qpdf repeats a file's page as often as it is named. */
function manyPages(n: number): Uint8Array {
  const hundred = join(folder, 'hundred.pdf');
  const one = join(folder, 'one.pdf');
  execFileSync('qpdf', ['--empty', '--pages', ...Array(100).fill(one), '--', hundred]);
  const to = join(folder, 'many.pdf');
  execFileSync('qpdf', ['--empty', '--pages', ...Array(n / 100).fill(hundred), '--', to]);
  return new Uint8Array(readFileSync(to));
}

/** The headers of a signed-in browser, for a request that fetch cannot break off. */
async function cookieOf(): Promise<Record<string, string>> {
  const school = await running.house.db.query(
    'SELECT p.login FROM copy_member m JOIN person p ON p.id = m.person_id WHERE m.copy_id = ?',
    [copyId],
  );
  const reply = await new Caller(running.address).raw('POST', '/api/sign-in', {
    body: JSON.stringify({ login: school[0].login, password: 'a long enough one' }),
    headers: { 'content-type': 'application/json' },
  });
  return {
    cookie: reply.headers.get('set-cookie')!.split(';')[0]!,
    'x-jotmark-token': ((await reply.json()) as { token: string }).token,
  };
}

describe('a file that can be mended is taken', () => {
  test('an owner’s password is taken off', async () => {
    const reply = await student.upload(
      copyId,
      qpdf(await plainPdf(), '--encrypt', '', 'owner', '256', '--print=none', '--'),
      'locked.pdf',
    );
    expect(reply).toMatchObject({ status: 200, body: { pages: 1 } });
    expect(await readingDone(student, reply.body.id)).toBe('done');
    expect(
      (await student.call('documentText', { params: { documentId: reply.body.id } })).body[0].words.length,
    ).toBeGreaterThan(3);
  });

  test('a slip in the cross-reference table is mended', async () => {
    const text = Buffer.from(qpdf(await plainPdf(), '--object-streams=disable'))
      .toString('latin1')
      .replace(/startxref\n\d+/, 'startxref\n7');
    const reply = await student.upload(copyId, new Uint8Array(Buffer.from(text, 'latin1')), 'bent.pdf');
    expect(reply).toMatchObject({ status: 200, body: { pages: 1 } });
  });

  test('scripts are taken out of what is opened, and the file as it came is kept', async () => {
    const bytes = await scriptedPdf();
    const reply = await student.upload(copyId, bytes, 'lively.pdf');
    expect(await readingDone(student, reply.body.id)).toBe('done');
    const served = join(folder, 'served.pdf');
    writeFileSync(
      served,
      new Uint8Array(await (await student.raw('GET', `/api/documents/${reply.body.id}/file`)).arrayBuffer()),
    );
    const plain = execFileSync('qpdf', ['--qdf', '--object-streams=disable', served, '-'], {
      encoding: 'latin1',
    });
    expect(plain).not.toMatch(/JavaScript|OpenAction|\/AA\b/);
    expect(plain).toContain('https://maps.example');
    const [row] = await running.house.db.query('SELECT sha256, original_sha256 FROM document WHERE id = ?', [
      reply.body.id,
    ]);
    expect(row.sha256).not.toBe(row.original_sha256);
  });

  test('names with folders, controls or nothing in them become plain names', () => {
    expect(
      [
        '../../etc/passwd',
        'C:\\Users\\me\\karte.pdf',
        'a\u0000b\u202egpj.pdf',
        '',
        '..',
        '  ',
        'x'.repeat(400),
      ].map(tidyName),
    ).toEqual([
      'passwd',
      'karte.pdf',
      'abgpj.pdf',
      'work.pdf',
      'work.pdf',
      'work.pdf',
      `${'x'.repeat(199)}…`,
    ]);
  });

  test('the same bytes are stored once', async () => {
    const bytes = await plainPdf(['twice']);
    // With its reading comes a small picture of the first page: the same for the same bytes.
    const send = async () => readingDone(student, (await student.upload(copyId, bytes)).body.id);
    expect(await send()).toBe('done');
    const { files } = await stored();
    expect(await send()).toBe('done');
    expect((await stored()).files).toBe(files);
  });
});

describe('serving by range', () => {
  test('gives the whole, a part, the end, and refuses what is beyond', async () => {
    // Three chunks, so that ranges cross their edges.
    const bytes = await heavyPdf(2_500_000);
    const { body } = await student.upload(copyId, bytes, 'long.pdf');
    expect(await readingDone(student, body.id)).toBe('done');
    const path = `/api/documents/${body.id}/file`;
    const whole = new Uint8Array(await (await student.raw('GET', path)).arrayBuffer());
    const part = async (range: string) => {
      const reply = await student.raw('GET', path, { headers: { range } });
      return {
        status: reply.status,
        range: reply.headers.get('content-range'),
        bytes: new Uint8Array(await reply.arrayBuffer()),
      };
    };
    const edge = await part('bytes=1048570-1048590');
    expect(edge).toMatchObject({ status: 206, range: `bytes 1048570-1048590/${whole.length}` });
    expect(edge.bytes).toEqual(whole.slice(1048570, 1048591));
    expect((await part('bytes=-5')).bytes).toEqual(whole.slice(-5));
    expect((await part(`bytes=${whole.length}-`)).status).toBe(416);
    const again = await student.raw('GET', path, {
      headers: { 'if-none-match': (await student.raw('GET', path)).headers.get('etag')! },
    });
    expect(again.status).toBe(304);
  });
});
