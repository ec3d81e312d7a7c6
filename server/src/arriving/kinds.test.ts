import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { convertOffice } from '../office/convert.ts';
import { Failed, FULL } from '../programs/failed.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, type Loose, readingDone, smallClass, testServer } from '../testing/house.ts';
import { type MadeOffice, makeOffice } from '../testing/made-office.ts';
import { plainPdf } from '../testing/pdfs.ts';

const folder = mkdtempSync(join(tmpdir(), 'jotmark-kinds-'));
let running: Running;
let student: Caller;
let teacher: Caller;
let copyId: string;
let made: MadeOffice;
beforeAll(async () => {
  running = await testServer({ workers: 2 });
  const school = await smallClass(running);
  student = await new Caller(running.address).signIn(school.students[0]!.login);
  teacher = await new Caller(running.address).signIn(school.teacher.login);
  copyId = school.copyOf(0);
  made = await makeOffice(new URL('../../../.test/office', import.meta.url).pathname);
}, 60_000);
afterAll(() => running.stop());

const bytesOf = (path: string) => new Uint8Array(readFileSync(path));

async function add(bytes: Uint8Array, name: string): Promise<Loose> {
  const laid = await student.upload(copyId, bytes, name);
  expect(laid.body).toMatchObject({ name });
  if (laid.body.shows === 'pages') await readingDone(student, laid.body.id);
  const { body } = await student.call('documentPages', { params: { documentId: laid.body.id } });
  await student.call('removeFile', { params: { copyId, documentId: laid.body.id } });
  return { ...body.state, frames: body.frames };
}

/** Documents become pages beside one another, as many as there are workers. */
const documents = new Map<keyof MadeOffice, Promise<Loose>>();
const OFFICE = ['docx', 'odt', 'rtf', 'pptx', 'doc', 'ppt', 'xlsx', 'ods', 'xls', 'csv'] as const;
function document(kind: (typeof OFFICE)[number]): Promise<Loose> {
  if (documents.size === 0) for (const k of OFFICE) documents.set(k, add(bytesOf(made[k]), 'anything.pdf'));
  return documents.get(kind)!;
}

describe('what becomes pages', () => {
  test.each([
    ['docx', 'application/vnd.openxmlformats-officedocument.wordprocessingml.document', 1, 'Reading the map'],
    ['odt', 'application/vnd.oasis.opendocument.text', 1, 'Reading the map'],
    ['rtf', 'application/rtf', 1, 'Reading the map'],
    ['pptx', 'application/vnd.openxmlformats-officedocument.presentationml.presentation', 2, 'Our island'],
    ['doc', 'application/msword', 1, 'Reading the map'],
    ['ppt', 'application/vnd.ms-powerpoint', 2, 'Our island'],
    [
      'xlsx',
      'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      2,
      'Rain Month Rain (mm) March 71.5',
    ],
    ['ods', 'application/vnd.oasis.opendocument.spreadsheet', 2, 'Rain Month Rain (mm) March 71.5'],
    ['xls', 'application/vnd.ms-excel', 2, 'Rain Month Rain (mm) March 71.5'],
    ['csv', 'text/csv', 1, 'Month Rain (mm) March 71,5 April =1+1'],
  ] as const)('%s, told by its content, with its words to be searched', async (kind, type, pages, words) => {
    const state = await document(kind);
    expect(state).toMatchObject({ type, pages, shows: 'pages', trouble: null, reading: { state: 'done' } });
    const { body } = await student.call('documentText', { params: { documentId: state.id } });
    expect(body[0].words.map((w: { text: string }) => w.text).join(' ')).toContain(words);
  });

  test('a wide sheet is not cut into strips: it is as wide as its page, and its name stands on top', async () => {
    const state = await document('xlsx');
    const { body } = await student.call('documentText', { params: { documentId: state.id } });
    const words = body[1].words.map((w: { text: string }) => w.text);
    expect(words[0]).toBe('Days');
    expect(words.filter((w: string) => w === 'Day')).toHaveLength(60);
    const [x0, y0, x1, y1] = state.frames[1].crop;
    expect((x1 - x0) / (y1 - y0)).toBeCloseTo(Math.SQRT2, 1);
    // Large enough that its letters are not shrunk past reading.
    expect(x1 - x0).toBeGreaterThan(1200);
  });

  test('a table of far too many rows is kept and says so', async () => {
    const lines = Array.from({ length: 30_000 }, (_, i) => `${i};x`).join('\n');
    expect(await add(new TextEncoder().encode(lines), 'all.csv')).toMatchObject({
      shows: 'nothing',
      trouble: 'too-many-pages',
    });
  }, 60_000);

  test('prose with commas is prose, and letters of old Windows are read', async () => {
    const prose = await add(
      new TextEncoder().encode('We went up, and down.\nIt rained, then not.\n'),
      'walk.csv',
    );
    expect(prose).toMatchObject({ type: 'text/plain', pages: 1 });
    const western = await add(new Uint8Array(Buffer.from('Hügel;Höhe\nTarn;71\n', 'latin1')), 'hills.csv');
    expect(western).toMatchObject({ type: 'text/csv', pages: 1 });
    const { body } = await student.call('documentText', { params: { documentId: western.id } });
    expect(body[0].words.map((w: { text: string }) => w.text).join(' ')).toContain('Hügel Höhe Tarn 71');
  });

  test('plain text in UTF-8', async () => {
    const state = await add(new TextEncoder().encode('Wir gingen über den Hügel.\n'), 'walk.txt');
    expect(state).toMatchObject({ type: 'text/plain', pages: 1 });
    const { body } = await student.call('documentText', { params: { documentId: state.id } });
    expect(body[0].words.map((w: { text: string }) => w.text).join(' ')).toBe('Wir gingen über den Hügel.');
  });

  test('photos are turned upright as they say themselves', async () => {
    const state = await add(bytesOf(made.photo), 'photo.jpg');
    expect(state).toMatchObject({ type: 'image/jpeg', pages: 1 });
    const [x0, y0, x1, y1] = state.frames[0].crop;
    // Stored 400 wide and 600 high, lying on its side; shown 600 wide and 400 high.
    expect((x1 - x0) / (y1 - y0)).toBeCloseTo(1.5, 2);
  });

  test.each(['png', 'webp'] as const)('%s', async (kind) => {
    expect(await add(bytesOf(made[kind]), `a.${kind}`)).toMatchObject({ type: `image/${kind}`, pages: 1 });
  });
});

describe('what has no pages is kept, says why, and can be scored', () => {
  test.each([
    ['sound', 'wav', 'audio/wav'],
    ['film', 'webm', 'video/webm'],
  ] as const)('%s plays beside the copy', async (shows, kind, type) => {
    const state = await add(bytesOf(made[kind]), `a.${kind}`);
    expect(state).toMatchObject({ shows, type, pages: 0, trouble: null });
    const whole = await student.raw('GET', `/api/documents/${state.id}/original`);
    expect(whole.headers.get('content-type')).toBe(type);
    expect(whole.headers.get('content-disposition')).toBeNull();
    const part = await student.raw('GET', `/api/documents/${state.id}/original`, {
      headers: { range: 'bytes=0-3' },
    });
    expect([part.status, (await part.arrayBuffer()).byteLength]).toEqual([206, 4]);
  });

  test.each([
    ['an unknown kind', 'unknown-kind', new Uint8Array([1, 2, 3, 0, 255, 254, 0, 7])],
    [
      'an old office file that is none we know',
      'unknown-kind',
      new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0, 0, 0, 0]),
    ],
    [
      'a document with a password',
      'password',
      new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, ...Buffer.from('EncryptedPackage\0', 'utf16le')]),
    ],
    [
      'a photo of a telephone that is none',
      'apple-photo',
      new TextEncoder().encode('\0\0\0\x18ftypheic0000'),
    ],
    [
      'a zip that ends before its list of contents',
      'cut-off',
      new TextEncoder().encode('PK\u0003\u0004 a document in a coat'),
    ],
  ] as const)('%s', async (_, trouble, bytes) => {
    const state = await add(bytes, 'thing.bin');
    expect(state).toMatchObject({ shows: 'nothing', trouble, pages: 0 });
    // What it is nobody knows: it is only ever saved, never run.
    const file = await student.raw('GET', `/api/documents/${state.id}/original`);
    expect(file.headers.get('content-type')).toBe('application/octet-stream');
    expect(file.headers.get('content-disposition')).toContain('attachment');
    expect(file.headers.get('content-security-policy')).toContain('sandbox');
  });

  test('a document that was cut off, or lacks its main part, is said to be that', async () => {
    const whole = bytesOf(made.docx);
    for (const share of [0.1, 0.5, 0.99])
      expect(await add(whole.slice(0, whole.length * share), 'cut.docx')).toMatchObject({
        shows: 'nothing',
        trouble: 'cut-off',
      });
    const lacking = Buffer.from(whole);
    // The part goes by another name, of the same length, in its head and in the list of contents.
    for (let at = lacking.indexOf('word/document.xml'); at >= 0; at = lacking.indexOf('word/document.xml'))
      lacking.write('word/dokument.xml', at);
    expect((await add(lacking, 'lacking.docx')).trouble).toBe('not-converted');
  });

  test('a document that LibreOffice cannot read', async () => {
    const broken = bytesOf(made.docx).slice();
    // The list of contents stays whole, the contents do not.
    broken.fill(0x41, 60, broken.length - 900);
    const state = await add(broken, 'broken.docx');
    expect(['not-converted', 'unknown-kind']).toContain(state.trouble);
    expect(state.shows).toBe('nothing');
  }, 60_000);

  test('a hand-in of such files alone is marked and handed back', async () => {
    const h = await handedIn(running, ['una', 'vic']);
    const other = await new Caller(running.address).signIn(h.students[1]!.login);
    const copy = h.copyOf(1);
    await other.upload(copy, bytesOf(made.wav), 'spoken.wav');
    await other.call('addLink', {
      params: { copyId: copy },
      body: { url: 'https://island.example/walk', name: '' },
    });
    await other.handIn(copy);
    const desk = await h.teacherCaller.call('desk', { params: { copyId: copy } });
    expect(desk.body.documents.map((d: Loose) => [d.shows, d.name, d.url])).toEqual([
      ['sound', 'spoken.wav', null],
      ['link', 'island.example', 'https://island.example/walk'],
    ]);
    const heard = await h.teacherCaller.raw('GET', `/api/documents/${desk.body.documents[0].id}/original`);
    expect(heard.status).toBe(200);
    const rows = (await h.teacherCaller.call('pile', { params: { assignmentId: h.assignmentId } })).body.rows;
    expect(rows.find((r: Loose) => r.copyId === copy)).toMatchObject({
      documents: 2,
      pages: 0,
      reading: { state: 'done' },
    });
  });
});

describe('what is refused, with a sentence', () => {
  test('a zip that unpacks to far more than any document', async () => {
    const reply = await student.upload(copyId, bomb(), 'bomb.docx');
    expect(reply.body).toMatchObject({ error: { code: 'file-bomb', facts: { name: 'bomb.docx' } } });
  });

  test('a picture with more dots than can be opened, by its header alone', async () => {
    // A PNG header that claims 60,000 by 60,000.
    const png = bytesOf(made.png).slice(0, 400);
    new DataView(png.buffer).setUint32(16, 60_000);
    new DataView(png.buffer).setUint32(20, 60_000);
    const reply = await student.upload(copyId, png, 'vast.png');
    expect(['picture-too-big', 'picture-broken']).toContain(reply.body.error.code);
  });

  test('a picture that is none', async () => {
    const reply = await student.upload(copyId, new Uint8Array([0xff, 0xd8, 0xff, 0, 1, 2]), 'torn.jpg');
    expect(reply.body).toMatchObject({ error: { code: 'picture-broken' } });
  });

  test('the thirty-first file', async () => {
    const school = await smallClass(running);
    const ada = await new Caller(running.address).signIn(school.students[0]!.login);
    const params = { copyId: school.copyOf(0) };
    for (let i = 0; i < 30; i++) {
      const body = { url: `https://island.example/${i}`, name: '' };
      expect((await ada.call('addLink', { params, body })).status).toBe(200);
    }
    expect((await ada.upload(params.copyId, await plainPdf(), 'one more.pdf')).body).toMatchObject({
      error: { code: 'too-many-files', facts: { most: 30 } },
    });
  }, 60_000);
});

describe('the converter', () => {
  test('that hangs is stopped with all it started, and the document says it took too long', async () => {
    const slow = join(folder, 'slow.sh');
    writeFileSync(slow, '#!/bin/sh\nsleep 60 &\nsleep 60\n', { mode: 0o755 });
    const began = Date.now();
    const failed = convertOffice(
      made.docx,
      'MS Word 2007 XML',
      folder,
      { cpuMs: 40, bytes: 1024 ** 3 },
      { program: slow },
    );
    await expect(failed).rejects.toMatchObject({ reason: 'too-slow' });
    expect(Date.now() - began).toBeLessThan(10_000);
  });

  test.each([
    ['dies', '#!/bin/sh\nkill -9 $$\n'],
    ['says all is well and makes nothing', '#!/bin/sh\nexit 0\n'],
  ])('that %s makes no pages, and nothing else breaks', async (_, script) => {
    const program = join(folder, 'bad.sh');
    writeFileSync(program, script, { mode: 0o755 });
    const failed = convertOffice(made.docx, 'MS Word 2007 XML', folder, FULL, { program });
    await expect(failed).rejects.toBeInstanceOf(Failed);
  });

  test('that works and works is stopped for the time of the processor it took, and says so', async () => {
    const busy = join(folder, 'busy.sh');
    writeFileSync(busy, '#!/bin/sh\nwhile :; do :; done\n', { mode: 0o755 });
    const failed = convertOffice(
      made.docx,
      'MS Word 2007 XML',
      folder,
      { cpuMs: 1000, bytes: 1024 ** 3 },
      { program: busy },
    );
    await expect(failed).rejects.toMatchObject({ reason: 'too-slow' });
  }, 30_000);
});

test('a teacher sees a student’s file once it is handed in, not before', async () => {
  const laid = await student.upload(copyId, await plainPdf(), 'mine.pdf');
  const seen = () => teacher.call('documentPages', { params: { documentId: laid.body.id } });
  expect((await seen()).status).toBe(404);
  await student.handIn(copyId);
  expect((await seen()).status).toBe(200);
});

/** A zip whose only entry claims to unpack to a gigabyte: stored sizes are what is looked at. */
function bomb(): Uint8Array {
  const name = 'word/document.xml';
  const local = Buffer.alloc(30 + name.length);
  local.writeUInt32LE(0x04034b50, 0);
  local.writeUInt16LE(20, 4);
  local.writeUInt16LE(8, 8);
  local.writeUInt32LE(10, 18);
  local.writeUInt32LE(1024 ** 3, 22);
  local.writeUInt16LE(name.length, 26);
  local.write(name, 30);
  const data = Buffer.alloc(10);
  const central = Buffer.alloc(46 + name.length);
  central.writeUInt32LE(0x02014b50, 0);
  central.writeUInt16LE(20, 4);
  central.writeUInt16LE(20, 6);
  central.writeUInt16LE(8, 10);
  central.writeUInt32LE(10, 20);
  central.writeUInt32LE(1024 ** 3, 24);
  central.writeUInt16LE(name.length, 28);
  central.write(name, 46);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(central.length, 12);
  end.writeUInt32LE(local.length + data.length, 16);
  return new Uint8Array(Buffer.concat([local, data, central, end]));
}
