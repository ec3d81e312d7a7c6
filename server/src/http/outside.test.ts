import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, type Loose, readingDone, smallClass, testServer } from '../testing/house.ts';
import { plainPdf } from '../testing/pdfs.ts';

/** What was found by asking from outside, as a page or a program that is not ours would. */
let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

const id = () => newId(running.house);

test('a message id that is used again: the same words are that message, other words are refused and not dropped', async () => {
  const h = await handedIn(running);
  const say = (who: Caller, of: string, words: string) =>
    who.call('say', { params: { copyId: h.copyId }, body: { id: of, words } });
  const one = id();
  expect((await say(h.student, one, 'A question')).status).toBe(200);
  expect((await say(h.student, one, 'A question')).status).toBe(200);
  const other = await say(h.student, one, 'Something else');
  expect([other.status, other.body.error.code]).toEqual([409, 'id-taken']);
  expect((await say(h.teacherCaller, one, 'A question')).status).toBe(409);
  const { body } = await h.student.call('messages', { params: { copyId: h.copyId } });
  expect(body.messages.map((m: Loose) => m.words)).toEqual(['A question']);
});

test('a hand-in under another’s id is refused in words, and their own is what it was', async () => {
  const h = await handedIn(running, ['ada', 'ben']);
  const ben = await new Caller(running.address).signIn(h.students[1]!.login);
  const copyId = h.copyOf(1);
  await ben.upload(copyId, await plainPdf());
  const hand = (of: string) =>
    ben.call('handIn', { params: { copyId }, body: { id: of, cover: '', claimedAt: null } });
  const taken = await hand(h.handInId);
  expect([taken.status, taken.body.error.code]).toEqual([409, 'id-taken']);
  expect((await hand(id())).status).toBe(200);
  expect((await h.student.call('work', { params: { copyId: h.copyId } })).body.handIn.id).toBe(h.handInId);
});

test('who has left a class hands nothing in, and keeps what they did', async () => {
  const s = await smallClass(running);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const ada = await new Caller(running.address).signIn(s.students[0]!.login);
  const copyId = s.copyOf(0);
  await ada.upload(copyId, await plainPdf());
  const of = { params: { classId: s.classId, personId: s.students[0]!.id } };
  await teacher.call('removeStudent', of);
  const refused = await ada.handIn(copyId);
  expect([refused.status, refused.body.error.code]).toEqual([409, 'left-class']);
  expect((await ada.call('work', { params: { copyId } })).body.files).toHaveLength(1);
  await teacher.call('returnStudent', of);
  expect((await ada.handIn(copyId)).status).toBe(200);
});

test('a link is kept as an address and nothing else: what would begin a line of a file is no part of it', async () => {
  const s = await smallClass(running);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const ada = await new Caller(running.address).signIn(s.students[0]!.login);
  const copyId = s.copyOf(0);
  const add = (url: string) => ada.call('addLink', { params: { copyId }, body: { url, name: 'film' } });
  for (const bad of ['mailto:ada@school.example', 'javascript:alert(1)', 'file:///etc/passwd'])
    expect((await add(bad)).status).toBe(400);
  const made = await add('https://film.example/a\r\nIconFile=\\\\evil\\x b');
  expect(made.status).toBe(200);
  expect(made.body.url).not.toMatch(/[\s\\]/);
  await ada.handIn(copyId);
  const ordered = await teacher.call('zipOriginals', {
    params: { assignmentId: s.assignmentId },
    body: { copyIds: [copyId] },
  });
  expect((await teacher.outcome(ordered.body.jobId)).status).toBe(200);
  const zip = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'all.zip');
  writeFileSync(
    zip,
    Buffer.from(await (await teacher.raw('GET', `/api/jobs/${ordered.body.jobId}/file`)).arrayBuffer()),
  );
  const shortcut = execFileSync('python3', [
    '-c',
    'import sys,zipfile; z=zipfile.ZipFile(sys.argv[1]); print(next(z.read(n).decode() for n in z.namelist() if n.endswith(".url")))',
    zip,
  ]).toString();
  expect(shortcut.trim().split(/\r?\n/)).toHaveLength(2);
});

test('the families’ page of archived work is closed', async () => {
  const s = await smallClass(running);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const of = { params: { assignmentId: s.assignmentId } };
  const { body } = await teacher.call('familyAddress', { ...of, body: { open: true } });
  const page = () => fetch(`${running.address}/api/family/${body.familyToken}`);
  expect((await page()).status).toBe(200);
  await teacher.call('putAway', { ...of, body: { away: true } });
  expect((await page()).status).toBe(404);
  await teacher.call('putAway', { ...of, body: { away: false } });
  expect((await page()).status).toBe(200);
});

test('a page of nowhere changes nothing, and is told so', async () => {
  const s = await smallClass(running);
  const ada = await new Caller(running.address).signIn(s.students[0]!.login);
  for (const headers of [{ origin: 'null' }, { origin: 'https://evil.example' }, { origin: 'no address' }]) {
    const reply = await ada.raw('POST', '/api/sign-out', { headers });
    expect(reply.status).toBe(403);
    expect(((await reply.json()) as Loose).error.code).toBe('stale-page');
  }
});

test('a file that was not read yet, or that could not be, is not shown as pages: its bytes are as they came', async () => {
  const h = await handedIn(running);
  expect(await readingDone(h.teacherCaller, h.documentId)).toBe('done');
  const file = () => h.teacherCaller.raw('GET', `/api/documents/${h.documentId}/file`);
  expect((await file()).status).toBe(200);
  await running.house.db.query('UPDATE document SET frames = NULL WHERE id = ?', [h.documentId]);
  expect((await file()).status).toBe(404);
});

test('in a browser that several share, a file is asked for again, and the next person does not get it', async () => {
  const h = await handedIn(running, ['ada', 'ben']);
  await readingDone(h.teacherCaller, h.documentId);
  const path = `/api/documents/${h.documentId}/file`;
  const first = await h.student.raw('GET', path);
  expect(first.headers.get('cache-control')).toBe('private, no-cache');
  const etag = first.headers.get('etag')!;
  const again = (who: Caller) => who.raw('GET', path, { headers: { 'if-none-match': etag } });
  // What the browser has is good for whom it is for, and for nobody else.
  expect((await again(h.student)).status).toBe(304);
  const ben = await new Caller(running.address).signIn(h.students[1]!.login);
  expect((await again(ben)).status).toBe(404);
  expect((await again(new Caller(running.address))).status).toBe(401);
});
