import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blindName, compareNames } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, readingDone, testServer } from '../testing/house.ts';
import { done, grade } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';

let running: Running;
const clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 2 });
});
afterAll(() => running.stop());

type Handed = Awaited<ReturnType<typeof handedIn>>;
const params = (h: Handed) => ({ assignmentId: h.assignmentId });
const pile = async (h: Handed) => (await h.teacherCaller.call('pile', { params: params(h) })).body as Loose;

describe('marking blind', () => {
  /** Everything a teacher's browser can receive about a pile. */
  async function received(h: Handed): Promise<string> {
    const t = h.teacherCaller;
    const copy = { copyId: h.copyId };
    const replies = [
      await t.call('pile', { params: params(h) }),
      await t.call('today'),
      await t.call('desk', { params: copy }),
      await t.call('messages', { params: copy }),
      await t.call('unread'),
      await t.call('room', { params: params(h) }),
      await t.call('closeLook', { params: copy }),
      await t.call('trail', { params: copy }),
    ];
    expect(replies.map((r) => r.status)).toEqual(replies.map(() => 200));
    const { documents } = replies[2]!.body;
    const file = await t.raw('GET', `/api/documents/${documents[0].id}/original?save`);
    return JSON.stringify(replies.map((r) => r.body)) + file.headers.get('content-disposition');
  }

  test('no answer to the teacher names a student, and the codes are the same everywhere', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const [ada, ben] = h.students;
    const ownName = new Caller(running.address);
    await ownName.signIn(ben!.login);
    const laid = await ownName.upload(h.copyOf(1), await plainPdf(), `${ben!.given} Example.pdf`);
    expect(laid.status).toBe(200);
    await ownName.handIn(h.copyOf(1), { cover: 'Hello' });
    await h.student.call('say', {
      params: { copyId: h.copyId },
      body: { id: '01a21263-aab7-77a6-ad1f-cbff6ce6aaaa', words: 'A question' },
    });
    const named = await received(h);
    for (const p of h.students) expect(named).toContain(p.given);
    await h.teacherCaller.call('setBlind', { params: params(h), body: { blind: true } });
    const blind = await received(h);
    for (const p of h.students)
      for (const name of [p.given, p.login, p.id]) expect(blind).not.toContain(name);
    const code = blindName(h.copyId).family;
    expect(blind.split(code).length).toBeGreaterThan(5);
    const families = (await pile(h)).rows.map((r: Loose) => r.student.family);
    expect(families).toEqual(families.toSorted(compareNames));
    // The student sees themselves as ever.
    expect(JSON.stringify((await h.student.call('work', { params: { copyId: h.copyId } })).body)).toContain(
      ada!.given,
    );
    // Lifted, the names are back.
    await h.teacherCaller.call('setBlind', { params: params(h), body: { blind: false } });
    expect(JSON.stringify(await pile(h))).toContain(ada!.given);
  });

  test('a name on the page itself is told with its place, and neither files nor links say it', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const ben = h.students[1]!;
    const own = new Caller(running.address);
    await own.signIn(ben.login);
    const copy = { copyId: h.copyOf(1) };
    const page = await plainPdf(['The hill is steep on the north side', `${ben.given} ${ben.family}`]);
    const laid = await own.upload(copy.copyId, page, `${ben.given}.pdf`);
    const address = `https://${ben.given.toLowerCase()}.school.example/film`;
    const linked = await own.call('addLink', { params: copy, body: { url: address, name: '' } });
    expect([laid.status, linked.status]).toEqual([200, 200]);
    await own.handIn(copy.copyId, {});
    expect(await readingDone(h.teacherCaller, laid.body.id)).toBe('done');
    const desk = async () => (await h.teacherCaller.call('desk', { params: copy })).body as Loose;
    expect((await desk()).named).toEqual([]);
    await h.teacherCaller.call('setBlind', { params: params(h), body: { blind: true } });
    const { named, documents } = await desk();
    expect(named).toMatchObject([{ document: laid.body.id, page: 0 }]);
    // 12 points high, in its second line.
    const [l, t, r, b] = named[0].box;
    expect([l > 65 && l < 75, t > 75 && b < 110, r > 100]).toEqual([true, true, true]);
    expect(documents.map((d: Loose) => [d.name, d.url])).toEqual([
      ['File 1.pdf', null],
      ['Link 2', null],
    ]);
    // What the pages of it say is no other.
    const pages = await h.teacherCaller.call('documentPages', { params: { documentId: linked.body.id } });
    expect(pages.body.state).toMatchObject({ name: 'Link 2', url: null });
    const led = await fetch(`${running.address}/api/documents/${linked.body.id}/link`, {
      redirect: 'manual',
    });
    expect(led.status).toBe(401);
    const followed = await h.teacherCaller.raw('GET', `/api/documents/${linked.body.id}/link`, {
      redirect: 'manual',
    });
    expect([followed.status, followed.headers.get('location')]).toEqual([302, address]);
    // Its student reads it as ever.
    const mine = await own.call('work', { params: copy });
    expect(JSON.stringify(mine.body)).toContain(address);
  });

  test('a copy that was handed back has its name again, the others not yet', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    await handInFor(ben, h.teacherCaller, h.copyOf(1));
    await h.teacherCaller.call('setBlind', { params: params(h), body: { blind: true } });
    await h.send(grade(900), done(true));
    await h.teacherCaller.call('handBack', { params: params(h), body: { copyIds: [h.copyId] } });
    const rows = (await pile(h)).rows;
    expect(rows.find((r: Loose) => r.copyId === h.copyId).student.given).toBe(h.students[0]!.given);
    expect(rows.find((r: Loose) => r.copyId === h.copyOf(1)).student.given).toBe('Copy');
  });
});

describe('a student who has left', () => {
  test('keeps a line apart from the pile, with where the copy is; back again it is in the pile', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const of = { params: { classId: h.classId, personId: h.students[0]!.id } };
    await h.teacherCaller.call('removeStudent', of);
    const left = await pile(h);
    expect(left.rows.map((r: Loose) => r.copyId)).toEqual([h.copyOf(1)]);
    expect(left.left).toMatchObject([
      { copyId: h.copyId, place: 'in', student: { given: h.students[0]!.given } },
    ]);
    // What came in stays open at the desk, and is not handed back with the others.
    expect((await h.teacherCaller.call('desk', { params: { copyId: h.copyId } })).status).toBe(200);
    await h.teacherCaller.call('returnStudent', of);
    const back = await pile(h);
    expect([back.rows.length, back.left.length]).toEqual([2, 0]);
  });
});

describe('many at once', () => {
  test('are excused, or get another date; what is not named stays', async () => {
    const h = await handedIn(running, ['ada', 'ben', 'cyd']);
    const terms = (body: object) => h.teacherCaller.call('pileTerms', { params: params(h), body });
    await terms({ copyIds: [h.copyOf(1), h.copyOf(2)], dueAt: clock - 1000 });
    expect((await pile(h)).rows.map((r: Loose) => r.overdue)).toEqual([false, true, true]);
    await terms({ copyIds: [h.copyOf(2)], excused: true });
    expect((await pile(h)).rows.map((r: Loose) => [r.overdue, r.excused])).toEqual([
      [false, false],
      [true, false],
      [false, true],
    ]);
    // A copy of another pile is left alone.
    const other = await handedIn(running);
    await terms({ copyIds: [other.copyOf(1)], excused: true });
    expect((await pile(other)).rows.every((r: Loose) => !r.excused)).toBe(true);
  });

  test('a grade typed into the line is the same as one from the desk', async () => {
    const h = await handedIn(running);
    const [row] = (await pile(h)).rows;
    expect(row).toMatchObject({ handInId: h.handInId, gradeVersion: null, grade: null });
    const typed = grade(750);
    await h.send(typed);
    const [after] = (await pile(h)).rows;
    expect(after).toMatchObject({ grade: 750, gradeVersion: typed.id, place: 'being-marked' });
    expect((await h.send(grade(800, after.gradeVersion))).results[0]).toMatchObject({ outcome: 'applied' });
    expect((await h.send(grade(100))).results[0]).toMatchObject({ outcome: 'conflict' });
  });
});

test('a small picture of the first page comes with its reading, for who may see the document', async () => {
  const h = await handedIn(running);
  await readingDone(h.teacherCaller, h.documentId);
  const [row] = (await pile(h)).rows;
  expect(row.cover).toBe(h.documentId);
  const picture = await h.teacherCaller.raw('GET', `/api/documents/${row.cover}/picture`);
  expect([picture.status, picture.headers.get('content-type')]).toEqual([200, 'image/jpeg']);
  const bytes = Buffer.from(await picture.arrayBuffer());
  expect([...bytes.subarray(0, 3)]).toEqual([0xff, 0xd8, 0xff]);
  expect(bytes.length).toBeLessThan(40_000);
  const stranger = await handedIn(running);
  expect((await stranger.teacherCaller.raw('GET', `/api/documents/${row.cover}/picture`)).status).toBe(404);
});

test('the originals of many copies come as one zip in named folders, read by another program', async () => {
  const h = await handedIn(running, ['ada', 'ben', 'cyd']);
  const ben = await new Caller(running.address).signIn(h.students[1]!.login);
  await ben.upload(h.copyOf(1), new TextEncoder().encode('plain words'), '../../words.txt');
  await ben.call('addLink', {
    params: { copyId: h.copyOf(1) },
    body: { url: 'https://island.example/', name: 'My map' },
  });
  await ben.handIn(h.copyOf(1));
  const ordered = await h.teacherCaller.call('zipOriginals', {
    params: params(h),
    body: { copyIds: [h.copyOf(0), h.copyOf(1), h.copyOf(2)] },
  });
  const job = { jobId: ordered.body.jobId };
  expect((await h.teacherCaller.outcome(job.jobId)).body).toMatchObject({ of: 'file' });
  const file = await h.teacherCaller.raw('GET', `/api/jobs/${job.jobId}/file`);
  expect(file.headers.get('content-disposition')).toContain('Map work.zip');
  const path = join(mkdtempSync(join(tmpdir(), 'jotmark-zip-')), 'all.zip');
  writeFileSync(path, Buffer.from(await file.arrayBuffer()));
  const list = execFileSync('python3', ['-m', 'zipfile', '-l', path], { encoding: 'utf8' });
  expect(list).toContain(`Example, ${h.students[0]!.given}/1 my work.pdf`);
  expect(list).toContain(`Example, ${h.students[1]!.given}/1 words.txt`);
  expect(list).toContain('2 My map.url');
  expect(list).not.toContain('..');
  // It is the teacher's who ordered it.
  const other = await handedIn(running);
  expect((await other.teacherCaller.call('job', { params: job })).status).toBe(404);
  expect((await other.teacherCaller.raw('GET', `/api/jobs/${job.jobId}/file`)).status).toBe(404);
});
