import type { LogBack, LogRemark, RemarkAnswerId, RemarkId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { closing, done, grade, id, note, put } from '../testing/marks.ts';

let running: Running;
let clock = Date.now();
const DAY = 86_400_000;
beforeAll(async () => {
  running = await testServer({ workers: 2 }, { now: () => clock });
});
afterAll(() => running.stop());

async function school() {
  const h = await handedIn(running);
  const params = { classId: h.classId, personId: h.students[0]!.id };
  const log = async () => (await h.teacherCaller.call('feedbackLog', { params })).body as Loose;
  const own = async () => (await h.student.call('ownLogs', {})).body as Loose;
  const remark = (more: object = {}) =>
    h.teacherCaller.call('addRemark', {
      params: { classId: h.classId },
      body: {
        id: id<RemarkId>(),
        to: [params.personId],
        words: 'Explained grid references to Ben, slowly and right.',
        at: clock,
        work: 'extra help',
        strand: 'reading maps',
        ...more,
      },
    });
  return { ...h, params, log, own, remark };
}

describe('a feedback log', () => {
  test('fills by itself: held for the teacher alone, then grade, words and notes with what became of them and how soon', async () => {
    const h = await school();
    const [unit, praise] = [
      note(h.documentId, 'Give the unit.', { focus: 'method', colour: 'amber' }),
      note(h.documentId, 'Well put.'),
    ];
    await h.send(put(unit), put(praise), grade(600), closing('Good reading.'));
    expect((await h.log()).entries).toMatchObject([{ held: true, grade: 600, closing: 'Good reading.' }]);
    expect((await h.own())[0].entries).toEqual([]);

    await h.send(done(true));
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
    const place = { document: h.documentId, page: 0, x: 100, y: 100, mark: unit.id };
    clock += 2 * DAY;
    await h.student.call('say', {
      params: { copyId: h.copyId },
      body: { id: id(), words: 'In metres.', act: 'sorted', place },
    });
    const [back] = (await h.log()).entries as [LogBack];
    expect(back).toMatchObject({ held: false, handIn: 1, grade: 600, most: 1000, title: 'Map work' });
    expect(back.notes.map((n) => [n.words, n.focus, n.done, n.act, n.answer])).toEqual([
      ['Give the unit.', 'method', true, 'sorted', 'In metres.'],
      ['Well put.', null, false, null, ''],
    ]);
    expect(back.notes[0]!.actAt! - back.at).toBe(2 * DAY);
    // The student reads the same of it.
    expect((await h.own())[0].entries).toEqual([back]);
  });

  test('a remark stands in each log it is for; a student answers a passage of it, and the teacher hears of it', async () => {
    const h = await school();
    const [ada, ben] = h.students;
    const remarkId = id<RemarkId>();
    expect((await h.remark({ id: remarkId, to: [ada!.id, ben!.id] })).status).toBe(200);
    // The same sent twice counts once.
    expect((await h.remark({ id: remarkId, to: [ada!.id, ben!.id] })).status).toBe(200);
    const benCaller = await new Caller(running.address).signIn(ben!.login);
    const [stands] = (await benCaller.call('ownLogs', {})).body[0].entries as [LogRemark];
    expect(stands).toMatchObject({ of: 'remark', work: 'extra help', strand: 'reading maps', mine: false });
    const news = (await benCaller.call('news', {})).body as Loose;
    expect(news.notices[0]).toMatchObject({ kind: 'remark', log: { classId: h.classId, personId: ben!.id } });

    const answer = (words: string, quote: string, personId = ben!.id) =>
      benCaller.call('answerRemark', {
        params: { remarkId },
        body: { id: id<RemarkAnswerId>(), words, quote, personId },
      });
    expect((await answer('I did it with Ada.', 'slowly and right')).status).toBe(200);
    // Nobody is quoted with what they did not say, and nobody writes in another's log.
    expect((await answer('No.', 'never said')).status).toBe(400);
    expect((await answer('No.', '', ada!.id)).status).toBe(404);
    const heard = (await h.teacherCaller.call('news', {})).body as Loose;
    expect(heard.notices[0]).toMatchObject({ kind: 'remark-answered', log: { personId: ben!.id } });
    const before = (await h.teacherCaller.call('lastWords', { params: h.params })).body as Loose;
    expect(before.students.map((s: Loose) => s.answered)).toEqual([0, 1]);
    // Saved as a file it was not read yet.
    const saved = await h.teacherCaller.call('takeOut', {
      body: { order: { what: 'logs', classId: h.classId, as: 'csv' } },
    });
    expect((await h.teacherCaller.outcome(saved.body.jobId)).status).toBe(200);
    const still = (await h.teacherCaller.call('lastWords', { params: h.params })).body as Loose;
    expect(still.students.map((s: Loose) => s.answered)).toEqual([0, 1]);
    const log = await h.teacherCaller.call('feedbackLog', { params: { ...h.params, personId: ben!.id } });
    expect(log.body.entries[0].answers).toMatchObject([
      { words: 'I did it with Ada.', quote: 'slowly and right', mine: false },
    ]);
    const after = (await h.teacherCaller.call('lastWords', { params: h.params })).body as Loose;
    expect(after.students.map((s: Loose) => s.answered)).toEqual([0, 0]);
    // Ada reads the remark without what Ben answered.
    expect((await h.own())[0].entries[0].answers).toEqual([]);

    expect((await h.teacherCaller.call('removeRemark', { params: { remarkId } })).status).toBe(200);
    expect((await benCaller.call('ownLogs', {})).body[0].entries).toEqual([]);
  });

  test('over a class: which focus, which phrase, who has open notes, with the copies behind each', async () => {
    const h = await school();
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const second = await handInFor(ben, h.teacherCaller, h.copyOf(1));
    await h.send(put(note(h.documentId, 'Give the unit.', { focus: 'method' })), done(true));
    await h.teacherCaller.call('sendChanges', {
      params: { handInId: second.handInId },
      body: { changes: [put(note(second.documentId, '“give the unit”', { focus: 'method' })), done(true)] },
    });
    const look = async () => (await h.teacherCaller.call('classLook', { params: h.params })).body as Loose;
    expect((await look()).works).toEqual([]);
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId, h.copyOf(1)] },
    });
    const told = await look();
    expect(told.works).toMatchObject([{ title: 'Map work', copies: 2, notes: 2, done: 0 }]);
    expect(told.focuses).toMatchObject([{ name: 'method', count: 2 }]);
    expect(told.phrases).toMatchObject([{ times: 2, copies: [{ times: 1 }, { times: 1 }] }]);
    expect(told.open.map((o: Loose) => o.open)).toEqual([1, 1]);
  });

  test('who has heard nothing for long is told, by anybody and by me', async () => {
    const h = await school();
    await h.remark();
    const said = (await h.teacherCaller.call('lastWords', { params: h.params })).body as Loose;
    expect(said.students.map((s: Loose) => s.lastByMe !== null)).toEqual([true, false]);
  });

  test('is read by teachers of the class alone, and remarks go to its students alone', async () => {
    const h = await school();
    const other = await smallClass(running, ['cyd']);
    const stranger = await new Caller(running.address).signIn(other.teacher.login);
    expect((await stranger.call('feedbackLog', { params: h.params })).status).toBe(404);
    // A class of theirs, and a student who is not in it.
    const params = { classId: other.classId, personId: h.students[0]!.id };
    expect((await stranger.call('feedbackLog', { params })).status).toBe(404);
    expect((await stranger.call('reports', { params })).status).toBe(404);
    expect((await h.remark({ to: [other.students[0]!.id] })).status).toBe(404);
    const remarkId = id<RemarkId>();
    await h.remark({ id: remarkId });
    const body = { words: 'Mine now.', at: clock, work: '', strand: '' };
    expect((await stranger.call('changeRemark', { params: { remarkId }, body })).status).toBe(404);
    expect((await stranger.call('removeRemark', { params: { remarkId } })).status).toBe(404);
  });

  test('a report is kept as it was written; who writes on an older one is told, and nothing is lost', async () => {
    const h = await school();
    const write = (words: string, base: number) =>
      h.teacherCaller.call('saveReport', { params: h.params, body: { term: 'Autumn', words, base } });
    const first = await write('Ada reads maps well.', 0);
    expect(first.status).toBe(200);
    expect((await write('Somebody else.', 0)).status).toBe(409);
    await write('Ada reads maps very well.', first.body.changedAt);
    const { body } = await h.teacherCaller.call('reports', { params: h.params });
    expect(body).toMatchObject([{ term: 'Autumn', words: 'Ada reads maps very well.' }]);
  });
});
