import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { RemarkId } from '@jotmark/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { closing, grade, id, note, put } from '../testing/marks.ts';
import { namesIn, partOfZip } from '../testing/zips.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 2 });
});
afterAll(() => running.stop());
const folder = mkdtempSync(join(tmpdir(), 'jotmark-erase-'));

async function school() {
  const h = await handedIn(running);
  const params = { classId: h.classId, personId: h.students[0]!.id };
  const ben = await new Caller(running.address).signIn(h.students[1]!.login);
  await handInFor(ben, h.teacherCaller, h.copyOf(1));
  await h.send(put(note(h.documentId, 'SECRET-NOTE')), grade(500), closing('SECRET-CLOSING'));
  await h.student.call('say', { params: { copyId: h.copyId }, body: { id: id(), words: 'SECRET-MESSAGE' } });
  await h.teacherCaller.call('addRemark', {
    params,
    body: { id: id<RemarkId>(), to: [params.personId], words: 'SECRET-REMARK', at: 1, work: '', strand: '' },
  });
  return { ...h, params, ben };
}

/** Where a text stands in any table of the database. */
async function traces(text: string): Promise<string[]> {
  const columns: { t: string; c: string }[] = await running.house.db.query(
    `SELECT table_name AS t, column_name AS c FROM information_schema.columns
     WHERE table_schema = DATABASE() AND data_type IN ('varchar', 'char', 'text', 'longtext')`,
  );
  const found: string[] = [];
  for (const { t, c } of columns) {
    const [{ n }] = await running.house.db.query(`SELECT COUNT(*) AS n FROM \`${t}\` WHERE \`${c}\` LIKE ?`, [
      `%${text}%`,
    ]);
    if (Number(n) > 0) found.push(`${t}.${c}`);
  }
  return found;
}

test('all data of a student is given out whole, and nothing of a marking that is held', async () => {
  const h = await school();
  const order = { what: 'student', ...h.params };
  const { body } = await h.teacherCaller.call('takeOut', { body: { order } });
  await h.teacherCaller.outcome(body.jobId);
  const reply = await h.teacherCaller.raw('GET', `/api/jobs/${body.jobId}/file`);
  const path = join(folder, 'data.zip');
  writeFileSync(path, new Uint8Array(await reply.arrayBuffer()));
  const names = namesIn(path);
  expect(names).toContain('data/message.json');
  expect(names.some((n) => n.startsWith('files/'))).toBe(true);
  const all = names.map((n) => partOfZip(path, n).toString('utf8')).join('\n');
  expect(all).toContain('SECRET-MESSAGE');
  expect(all).toContain('SECRET-REMARK');
  expect(all).not.toContain('SECRET-CLOSING');
  expect(all).not.toContain('SECRET-NOTE');
  expect(all).not.toContain('argon2');
  // Another student's is not in it.
  expect(all).not.toContain(h.students[1]!.id);
});

test('erased it is in no table any more, the account is nobody’s, and classmates keep all of theirs', async () => {
  const h = await school();
  const erase = () => h.teacherCaller.call('eraseStudent', { params: h.params });
  expect((await erase()).body.error.code).toBe('still-in-class');
  expect(await traces('SECRET-MESSAGE')).not.toEqual([]);
  await h.teacherCaller.call('removeStudent', { params: h.params });
  const before = (await h.ben.call('work', { params: { copyId: h.copyOf(1) } })).body;
  // The other test's student said the same: only this one is looked for.
  const mine = await running.house.db.query('SELECT COUNT(*) AS n FROM message WHERE by_id = ?', [
    h.params.personId,
  ]);
  expect(Number(mine[0].n)).toBe(1);
  expect((await erase()).body).toEqual({ copies: 1, shared: 0, account: true });
  // Jobs and hints are swept; the log of acts stays for its time, as is said before. It has no names.
  for (const trace of [h.copyId, h.handInId, h.documentId, h.students[0]!.login])
    expect(
      (await traces(trace)).filter((t) => !/^(job|event|act_log)\./.test(t)),
      trace,
    ).toEqual([]);
  expect((await erase()).status).toBe(404);
  expect((await h.student.call('workList', {})).status).toBe(401);
  expect((await h.ben.call('work', { params: { copyId: h.copyOf(1) } })).body).toEqual(before);
  const register = (await h.teacherCaller.call('register', { params: h.params })).body as Loose;
  expect(register.students.map((s: Loose) => s.personId)).toEqual([h.students[1]!.id]);
});

test('nobody erases in a class they do not teach', async () => {
  const h = await school();
  const other = await smallClass(running, ['cyd']);
  const stranger = await new Caller(running.address).signIn(other.teacher.login);
  expect((await stranger.call('eraseStudent', { params: h.params })).status).toBe(404);
});
