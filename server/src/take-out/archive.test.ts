import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { NoteMark, RemarkId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addPerson } from '../people/person.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, PASSWORD, testServer } from '../testing/house.ts';
import { closing, done, grade, id, note, put } from '../testing/marks.ts';
import { keepSpoken, recordingOfBytes, spoken } from '../testing/voices.ts';
import { madeWorksheet } from '../testing/worksheets.ts';
import { changedZip, partOfZip } from '../testing/zips.ts';
import { MANIFEST } from './archive.ts';
import { ZipFolder } from './folder.ts';
import { NotRead, readArchive } from './read-archive.ts';

let from: Running;
let to: Running;
let archive: string;
let h: Awaited<ReturnType<typeof handedIn>>;
const folder = mkdtempSync(join(tmpdir(), 'jotmark-archived-'));

/** Orders a class's archive, and saves it. */
async function archived(running: Running, teacher: Caller, name: string): Promise<string> {
  const { body } = await teacher.call('takeOut', {
    body: { order: { what: 'archive', classId: h.classId } },
  });
  await teacher.outcome(body.jobId);
  const reply = await teacher.raw('GET', `/api/jobs/${body.jobId}/file`);
  expect(running.address).toBeTruthy();
  const path = join(folder, name);
  writeFileSync(path, new Uint8Array(await reply.arrayBuffer()));
  return path;
}

const partOf = (path: string, part: string): string => partOfZip(path, part).toString('utf8');
const manifestOf = (path: string) => JSON.parse(partOf(path, MANIFEST));

/** The same zip with one of its parts changed. */
function changed(name: string, part: string, to: (text: string) => string): string {
  const path = join(folder, name);
  changedZip(archive, path, part, to(partOf(archive, part)));
  return path;
}

beforeAll(async () => {
  from = await testServer({ workers: 1 });
  to = await testServer({ workers: 1 });
  h = await handedIn(from);
  const pile = { assignmentId: h.assignmentId };
  const file = await keepSpoken(h.teacherCaller, spoken());
  await madeWorksheet(h.teacherCaller);
  const mark = note(h.documentId, 'Look again: “why”?', {
    voice: recordingOfBytes(spoken()),
  } as Partial<NoteMark>);
  expect(file).toBeTruthy();
  await h.send(put(mark), grade(650), closing('Well read.'), done(true));
  await h.teacherCaller.call('handBack', { params: pile, body: { copyIds: [h.copyId] } });
  const place = { document: h.documentId, page: 0, x: 1, y: 1, mark: mark.id };
  await h.student.call('say', {
    params: { copyId: h.copyId },
    body: { id: id(), words: 'So.', act: 'sorted', place },
  });
  await h.teacherCaller.call('addRemark', {
    params: { classId: h.classId },
    body: {
      id: id<RemarkId>(),
      to: [h.students[0]!.id],
      words: 'Helped Ben.',
      at: 1,
      work: '',
      strand: 'helping',
    },
  });
  await h.teacherCaller.call('saveReport', {
    params: { classId: h.classId, personId: h.students[0]!.id },
    body: { term: 'Autumn', words: 'Reads maps.', base: 0 },
  });
  archive = await archived(from, h.teacherCaller, 'class.zip');
});
afterAll(() => Promise.all([from.stop(), to.stop()]));

const trouble = (path: string): Promise<unknown> =>
  readArchive(to.house, path).then(
    () => null,
    (error) => (error instanceof NotRead ? error.trouble : error),
  );

describe('a class’s archive', () => {
  test('cut off, changed, or of a newer Jotmark it is refused with why, and nothing of it is kept', async () => {
    const whole = readFileSync(archive);
    const cut = join(folder, 'cut.zip');
    writeFileSync(cut, whole.subarray(0, whole.length / 2));
    expect(await trouble(cut)).toEqual({ why: 'cut-off' });
    expect(
      await trouble(changed('grade.zip', 'rows/hand_back.ndjson', (t) => t.replace('650', '950'))),
    ).toEqual({
      why: 'changed',
      part: 'rows/hand_back.ndjson',
    });
    const [file] = manifestOf(archive).files;
    expect(await trouble(changed('file.zip', `files/${file}`, () => 'another'))).toEqual({
      why: 'changed',
      part: `files/${file}`,
    });
    const newer = changed('newer.zip', MANIFEST, (t) => t.replace(/"step": "[^"]*"/, '"step": "Future999"'));
    expect(await trouble(newer)).toEqual({ why: 'newer', step: 'Future999' });
    const other = join(folder, 'other.zip');
    const zip = new ZipFolder(other);
    await zip.add([], 'x.txt', Buffer.from('x'));
    await zip.end();
    expect(await trouble(other)).toEqual({ why: 'no-archive' });
    // A login that belongs to somebody else here.
    const taken = h.students[1]!.login;
    const somebody = await addPerson(to.house, {
      role: 'student',
      given: 'Somebody',
      family: 'Else',
      login: taken,
      password: PASSWORD,
    });
    expect(await trouble(archive)).toEqual({ why: 'login-taken', login: taken });
    const [{ n }] = await to.house.db.query('SELECT COUNT(*) AS n FROM school_class');
    expect(Number(n)).toBe(0);
    await to.house.db.query('DELETE FROM person WHERE id = ?', [somebody.id]);
  });

  test('read into an empty Jotmark it is equal: archived there again every table and file is the same', async () => {
    const read = await readArchive(to.house, archive);
    expect(read.people.map((p) => p.role).sort()).toEqual(['student', 'student', 'teacher']);
    // Nobody can sign in by what stood in it.
    const login = { login: h.teacher.login, password: PASSWORD };
    expect((await new Caller(to.address).call('signIn', { body: login })).status).toBe(401);
    expect(partOf(archive, 'rows/person.ndjson')).not.toContain('argon2');
    await to.house.db.query('UPDATE person SET password_hash = (SELECT h FROM (SELECT ? AS h) x)', [
      (await from.house.db.query('SELECT password_hash AS h FROM person LIMIT 1'))[0].h,
    ]);
    const teacher = await new Caller(to.address).signIn(h.teacher.login);
    const again = await archived(to, teacher, 'again.zip');
    const [a, b] = [manifestOf(archive), manifestOf(again)];
    expect(b.tables).toEqual(a.tables);
    expect(b.files).toEqual(a.files);
    expect(a.tables.filter((t: { rows: number }) => t.rows > 0).length).toBeGreaterThan(20);
    // And it is seen: the student's log, with its recording, as it was.
    const params = { classId: h.classId, personId: h.students[0]!.id };
    const log = async (caller: Caller) => (await caller.call('feedbackLog', { params })).body;
    expect(await log(teacher)).toEqual(await log(h.teacherCaller));
    expect(await trouble(archive)).toEqual({ why: 'there-already', className: read.className });
  });
});
