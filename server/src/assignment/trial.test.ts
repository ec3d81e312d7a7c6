import type { HandInId, NoteMark } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { closing, done, grade, note, put } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

async function begun() {
  const school = await smallClass(running, ['ada']);
  const teacher = await new Caller(running.address).signIn(school.teacher.login);
  const ada = await new Caller(running.address).signIn(school.students[0]!.login);
  const of = { params: { assignmentId: school.assignmentId } };
  const { body: trial } = await teacher.call('startTrial', of);
  return { school, teacher, ada, of, trial };
}
/** Every row that names one of these ids, anywhere in the database. */
async function traces(ids: readonly string[]): Promise<string[]> {
  const { db } = running.house;
  const columns: { t: string; c: string }[] = await db.query(
    `SELECT TABLE_NAME AS t, COLUMN_NAME AS c FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND CHARACTER_MAXIMUM_LENGTH = 36`,
  );
  const out: string[] = [];
  for (const { t, c } of columns) {
    const [{ n }] = await db.query(`SELECT COUNT(*) AS n FROM \`${t}\` WHERE \`${c}\` IN (?)`, [ids]);
    if (Number(n)) out.push(`${t}.${c}`);
  }
  return out;
}

describe('a trial run', () => {
  test('goes the whole way with the teacher alone: filled in, handed in, marked, handed back', async () => {
    const { teacher, trial } = await begun();
    const copy = { params: { copyId: trial.copyId } };
    expect((await teacher.call('work', copy)).body).toMatchObject({ row: { place: 'with-student' } });
    const laid = await teacher.upload(trial.copyId, await plainPdf(['try']), 'try.pdf');
    expect(laid.status).toBe(200);
    expect((await teacher.call('documentPages', { params: { documentId: laid.body.id } })).status).toBe(200);
    const id = newId<HandInId>(running.house);
    expect((await teacher.handIn(trial.copyId, { id })).status).toBe(200);
    expect((await teacher.call('desk', copy)).body).toMatchObject({ handIn: { id, number: 1 } });
    const mark = note(laid.body.id, 'So it looks.') as NoteMark;
    const sent = await teacher.call('sendChanges', {
      params: { handInId: id },
      body: { changes: [put(mark), grade(700), closing('Good.'), done(true)] },
    });
    expect(sent.body.results.map((r: Loose) => r.outcome)).toEqual(Array(4).fill('applied'));
    await teacher.call('handBack', {
      params: { assignmentId: trial.assignmentId },
      body: { copyIds: [trial.copyId] },
    });
    const { handBack } = (await teacher.call('work', copy)).body;
    expect(handBack.snapshot).toMatchObject({ grade: 700, closing: 'Good.' });
    expect(
      (await teacher.call('opened', { params: { handBackId: handBack.id }, body: { marks: [mark.id] } }))
        .status,
    ).toBe(200);
    // What one did oneself is no news.
    expect((await teacher.call('news', {})).body.notices).toEqual([]);
  });

  test('counts nowhere: no list, no pile, nothing to do, no news of the class knows of it', async () => {
    const { school, teacher, ada, of, trial } = await begun();
    await teacher.upload(trial.copyId, await plainPdf(['try']), 'try.pdf');
    await teacher.handIn(trial.copyId, { id: newId<HandInId>(running.house) });
    const seen = [
      await teacher.call('assignments', { params: { classId: school.classId } }),
      await teacher.call('today'),
      await teacher.call('pile', of),
      await teacher.call('pileScores', of),
      await teacher.call('unread'),
      await ada.call('workList'),
      await ada.call('news', {}),
    ].map((r) => JSON.stringify(r.body));
    for (const text of seen) {
      expect(text).not.toContain(trial.assignmentId);
      expect(text).not.toContain(trial.copyId);
    }
    expect((await teacher.call('assignment', of)).body.trial).toEqual(trial);
    expect((await ada.call('work', { params: { copyId: trial.copyId } })).status).toBe(404);
  });

  test('is one, however often it is begun; of a trial run there is none', async () => {
    const { teacher, of, trial } = await begun();
    expect((await teacher.call('startTrial', of)).body).toEqual(trial);
    expect((await teacher.call('startTrial', { params: { assignmentId: trial.assignmentId } })).status).toBe(
      404,
    );
  });

  test('ended, all of it is gone, and nothing else', async () => {
    const { teacher, of, trial, school } = await begun();
    const laid = await teacher.upload(trial.copyId, await plainPdf(['try']), 'try.pdf');
    const id = newId<HandInId>(running.house);
    await teacher.handIn(trial.copyId, { id });
    await teacher.call('sendChanges', {
      params: { handInId: id },
      body: { changes: [put(note(laid.body.id, 'x')), grade(700), done(true)] },
    });
    await teacher.call('handBack', {
      params: { assignmentId: trial.assignmentId },
      body: { copyIds: [trial.copyId] },
    });
    const back = (await teacher.call('work', { params: { copyId: trial.copyId } })).body.handBack.id;
    const before = await running.house.db.query('SELECT COUNT(*) AS n FROM copy');
    expect((await teacher.call('endTrial', of)).status).toBe(200);
    expect((await running.house.db.query('SELECT COUNT(*) AS n FROM copy'))[0].n).toBe(
      String(Number(before[0].n) - 1),
    );
    expect(
      (await traces([trial.assignmentId, trial.copyId, laid.body.id, id, back])).filter(
        // A hint that is over, a job that is done, that it was looked at: they say nothing, and are swept; the log of acts is kept for its time.
        (t) => !/^(job|event|opened|act_log)\./.test(t),
      ),
    ).toEqual([]);
    expect((await teacher.call('pile', of)).body.rows).toHaveLength(1);
    expect((await teacher.call('assignment', of)).body).toMatchObject({
      id: school.assignmentId,
      trial: null,
    });
    expect((await teacher.call('endTrial', of)).status).toBe(404);
  });

  test('gives a teacher nothing of a student’s own: only the copy of the trial run is theirs', async () => {
    const { school, teacher, trial } = await begun();
    const copyId = school.copyOf(0);
    for (const name of ['work', 'takeBack', 'handIn'] as const)
      expect((await teacher.call(name, { params: { copyId } })).status, name).toBe(403);
    const other = (await begun()).teacher;
    expect((await other.call('work', { params: { copyId: trial.copyId } })).status).toBe(403);
    expect((await other.call('desk', { params: { copyId: trial.copyId } })).status).toBe(404);
  });
});
