import type { NoteMark } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, testServer } from '../testing/house.ts';
import { closing, done, grade, note, put } from '../testing/marks.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({}, { now: () => clock });
});
afterAll(() => running.stop());

type Handed = Awaited<ReturnType<typeof handedIn>>;
const handBack = (h: Handed, ...copyIds: string[]) =>
  h.teacherCaller.call('handBack', { params: { assignmentId: h.assignmentId }, body: { copyIds } });

describe('handing back', () => {
  test('takes only what is marked, all in one transaction, and names what stays', async () => {
    const h = await handedIn(running, ['ada', 'ben', 'cyd']);
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    await handInFor(ben, h.teacherCaller, h.copyOf(1));
    await h.send(grade(900), closing('Good.'), done(true));
    const { body } = await handBack(h, h.copyOf(0), h.copyOf(1), h.copyOf(2));
    expect(body).toEqual({ handedBack: [h.copyOf(0)], kept: [h.copyOf(1), h.copyOf(2)], order: null });
    expect((await ben.call('work', { params: { copyId: h.copyOf(1) } })).body.handBack).toBeNull();
  });

  test('with nothing marked hands back nothing and says so', async () => {
    const h = await handedIn(running);
    expect(await handBack(h, h.copyId)).toMatchObject({
      status: 409,
      body: { error: { code: 'nothing-marked' } },
    });
  });

  test('twice at once hands back once', async () => {
    const h = await handedIn(running);
    await h.send(done(true));
    const replies = await Promise.all([handBack(h, h.copyId), handBack(h, h.copyId)]);
    expect(replies.map((r) => r.status).sort()).toEqual([200, 409]);
    expect(
      await running.house.db.query('SELECT 1 FROM hand_back WHERE copy_id = ?', [h.copyId]),
    ).toHaveLength(1);
  });

  test('is frozen: nothing that is sent afterwards changes what the student got', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'as it was') as NoteMark;
    const first = put(mark);
    await h.send(first, grade(800), done(true));
    await h.teacherCaller.call('turnPages', {
      params: { documentId: h.documentId },
      body: { turns: { 0: 90 } },
    });
    await handBack(h, h.copyId);
    const answer = await h.send(put({ ...mark, words: 'changed' }, mark, first.id));
    expect(answer.results[0]).toMatchObject({ outcome: 'refused', reason: 'handed-back' });
    await h.teacherCaller.call('turnPages', { params: { documentId: h.documentId }, body: { turns: {} } });
    const { body } = await h.student.call('work', { params: { copyId: h.copyId } });
    expect(body.handBack.snapshot).toMatchObject({
      grade: 800,
      marks: [{ words: 'as it was' }],
      turns: { [h.documentId]: { 0: 90 } },
    });
  });

  test('opens the way to hand in again; until then a second hand-in is refused', async () => {
    const h = await handedIn(running);
    const upload = async () =>
      h.student.upload(
        h.copyId,
        (await import('../testing/pdfs.ts').then((m) => m.plainPdf(['better']))) as Uint8Array,
      );
    expect((await upload()).body.error.code).toBe('already-handed-in');
    await h.send(done(true));
    await handBack(h, h.copyId);
    const laid = await upload();
    expect(laid.status).toBe(200);
    const id = newId(running.house) as string;
    const again = await h.student.handIn(h.copyId, { id });
    expect(again.body).toMatchObject({
      row: { place: 'in-again' },
      handIn: { number: 2 },
      handBack: { handInNumber: 1 },
    });
    const twice = await h.student.handIn(h.copyId, { id });
    expect(twice.body.handIn.number).toBe(2);
    const desk = await h.teacherCaller.call('desk', { params: { copyId: h.copyId } });
    expect(desk.body).toMatchObject({
      handIn: { number: 2 },
      handedBack: false,
      marking: { seq: 0, marks: [] },
    });
  });
});

describe('late and overdue', () => {
  test('are told by the server’s clock and the date of the copy', async () => {
    const due = clock + 3_600_000;
    const early = await handedIn(running, ['ada', 'ben'], due);
    expect((await early.student.call('work', { params: { copyId: early.copyId } })).body.row).toMatchObject({
      late: 0,
      overdue: false,
    });
    clock = due + 2 * 3_600_000;
    const ben = await new Caller(running.address).signIn(early.students[1]!.login);
    expect((await ben.call('work', { params: { copyId: early.copyOf(1) } })).body.row).toMatchObject({
      overdue: true,
    });
    await handInFor(ben, early.teacherCaller, early.copyOf(1));
    const pile = await early.teacherCaller.call('pile', { params: { assignmentId: early.assignmentId } });
    expect(
      pile.body.rows.map((r: { late: number; overdue: boolean }) => [r.late >= 2 * 3_600_000, r.overdue]),
    ).toEqual([
      [false, false],
      [true, false],
    ]);
  });

  test('Today puts the longest waiting pile first and goes on with what is half marked', async () => {
    const h = await handedIn(running);
    let today = (await h.teacherCaller.call('today')).body;
    expect(today[0]).toMatchObject({
      counts: { in: 1, 'with-student': 1 },
      next: { copyId: h.copyId, begun: false },
    });
    await h.send(put(note(h.documentId, 'begun')));
    today = (await h.teacherCaller.call('today')).body;
    expect(today[0]).toMatchObject({ counts: { 'being-marked': 1 }, next: { begun: true }, pace: null });
  });
});
