import { randomBytes } from 'node:crypto';
import {
  type ChangeId,
  type CopyChange,
  type CopyId,
  type MessageId,
  makeId,
  type Question,
  sittingsOf,
  TrailReader,
} from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addWorksheet } from '../assignment/materials.ts';
import { setAssignment } from '../assignment/set.ts';
import { type Running, serve } from '../serve.ts';
import { hear } from '../testing/hear.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { done } from '../testing/marks.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

const id = <T extends string>() => makeId(Date.now(), randomBytes(10)) as T;
const write = (q: Question, value: string, base: ChangeId | null = null, was = ''): CopyChange => ({
  id: id<ChangeId>(),
  base,
  type: 'answer',
  question: q.id,
  value,
  was,
});

async function lesson(students: readonly string[] = ['ada', 'ben']) {
  const school = await smallClass(running, students);
  const teacher = await new Caller(running.address).signIn(school.teacher.login);
  const worksheetId = await madeWorksheet(teacher);
  const sheet = await worksheetRead(teacher, worksheetId);
  const questions = [question(0, { kind: 'line' }), question(1, { kind: 'paragraph', lines: null })];
  await teacher.call('saveQuestions', {
    params: { worksheetId },
    body: { versionId: sheet.versionId, revision: sheet.revision, questions },
  });
  const set = await setAssignment(
    running.house,
    { classId: school.classId, title: 'Lesson', instructions: '', dueAt: null, most: null },
    (a) => addWorksheet(running.house, a, worksheetId as never),
  );
  const copyOf = (n: number) => set.copies.get(school.students[n]!.id)! as CopyId;
  const pupils: Caller[] = [];
  for (const s of school.students) pupils.push(await new Caller(running.address).signIn(s.login));
  const send = (n: number, ...changes: CopyChange[]) =>
    pupils[n]!.call('sendCopyChanges', { params: { copyId: copyOf(n) }, body: { changes } });
  const room = async (query = '') =>
    (await teacher.call('room', { params: { assignmentId: set.id }, query })).body as Loose;
  return {
    ...school,
    teacherLogin: school.teacher.login,
    teacher,
    pupils,
    set,
    copyOf,
    send,
    room,
    questions,
  };
}

describe('walking the room', () => {
  test('shows what stands at each question, where the hand is, and who never began', async () => {
    const l = await lesson();
    const [one, two] = l.questions as [Question, Question];
    const first = write(one, 'Tarn');
    await l.send(0, first, write(two, 'x'.repeat(500)));
    const { rows, now } = await l.room();
    expect(rows).toMatchObject([
      { hereAt: null, atQuestion: two.id, place: 'with-student' },
      { hereAt: null, atQuestion: null, workedAt: null, answers: [] },
    ]);
    expect(rows[0].answers.map((a: Loose) => [a.text.length, a.letters]).sort()).toEqual([
      [240, 500],
      [4, 4],
    ]);
    expect(Math.abs(now - rows[0].workedAt)).toBeLessThan(10_000);
    // Only the copies a hint was about.
    expect((await l.room(`?copies=${l.copyOf(1)}`)).rows).toHaveLength(1);
    expect(
      (await l.teacher.call('room', { params: { assignmentId: l.set.id }, query: '?copies=nonsense' }))
        .status,
    ).toBe(400);
  });

  test('hints come over a line as changes are committed, and only of that room', async () => {
    const l = await lesson();
    const other = await lesson();
    const line = await hear(l.teacher, `/api/assignments/${l.set.id}/live`);
    expect([line.status, line.type]).toEqual([200, expect.stringContaining('text/event-stream')]);
    await other.send(0, write(other.questions[0]!, 'elsewhere'));
    await l.send(1, write(l.questions[0]!, 'here'));
    await expect.poll(() => line.hints, { timeout: 5000 }).toEqual([{ copyId: l.copyOf(1), kind: 'work' }]);
    await line.hangUp();
  });

  test('being here is a line of one’s own: it is seen when it opens and when it breaks', async () => {
    const l = await lesson();
    const line = await hear(l.pupils[0]!, `/api/work/${l.copyOf(0)}/live`);
    expect((await l.room()).rows.map((r: Loose) => r.hereAt !== null)).toEqual([true, false]);
    await line.hangUp();
    await expect.poll(async () => (await l.room()).rows[0].hereAt, { timeout: 5000 }).toBeNull();
  });

  test('a student who has the copy open hears that it was handed back', async () => {
    const l = await lesson();
    await l.send(0, write(l.questions[0]!, 'Tarn'));
    await l.pupils[0]!.handIn(l.copyOf(0));
    const { body: desk } = await l.teacher.call('desk', { params: { copyId: l.copyOf(0) } });
    const params = { handInId: desk.handIn.id };
    await l.teacher.call('sendChanges', { params, body: { changes: [done(true)] } });
    const line = await hear(l.pupils[0]!, `/api/work/${l.copyOf(0)}/live`);
    await l.teacher.call('handBack', {
      params: { assignmentId: l.set.id },
      body: { copyIds: [l.copyOf(0)] },
    });
    await expect.poll(() => line.hints.map((h) => h.kind), { timeout: 5000 }).toContain('hand-back');
    await line.hangUp();
  });

  test('a server that starts anew hears what others commit', async () => {
    const l = await lesson();
    const second = await serve({ ...running.house.settings, port: 0, workers: 0 });
    const teacher = new Caller(second.address);
    await teacher.signIn(l.teacherLogin);
    const line = await hear(teacher, `/api/assignments/${l.set.id}/live`);
    await l.send(0, write(l.questions[0]!, 'written at the first server'));
    await expect.poll(() => line.hints.map((h) => h.copyId), { timeout: 5000 }).toContain(l.copyOf(0));
    await line.hangUp();
    await second.stop();
  });
});

describe('a word at once', () => {
  test('to many is one word to each, once, and to nobody of another class', async () => {
    const l = await lesson();
    const other = await lesson();
    const to = [0, 1].map((n) => ({ id: id<MessageId>(), copyId: l.copyOf(n) }));
    const say = (list: object[]) =>
      l.teacher.call('sayToMany', {
        params: { assignmentId: l.set.id },
        body: { words: 'Five minutes left.', to: list },
      });
    expect((await say([...to, { id: id<MessageId>(), copyId: other.copyOf(0) }])).status).toBe(404);
    expect((await l.pupils[0]!.call('unread')).body).toEqual([]);
    await say(to);
    await say(to);
    for (const pupil of l.pupils)
      expect((await pupil.call('unread')).body).toMatchObject([{ words: 'Five minutes left.', count: 1 }]);
  });

  test('can point to a spot of the page', async () => {
    const l = await lesson();
    const { body } = await l.teacher.call('closeLook', { params: { copyId: l.copyOf(0) } });
    const place = { document: body.sheets[0].document.id, page: 0, x: 100, y: 200 };
    await l.teacher.call('say', {
      params: { copyId: l.copyOf(0) },
      body: { id: id<MessageId>(), words: 'Here.', place },
    });
    const talk = await l.pupils[0]!.call('messages', { params: { copyId: l.copyOf(0) } });
    expect(talk.body.messages).toMatchObject([{ words: 'Here.', place }]);
  });
});

describe('the working trail', () => {
  test('is the same for the student as for the teacher, strokes that went included', async () => {
    const l = await lesson();
    const q = l.questions[0]!;
    const first = write(q, 'the hill');
    await l.send(0, first, {
      ...write(q, 'the hill is steep', first.id, 'the hill'),
      pasted: 9,
    } as CopyChange);
    const { body: look } = await l.teacher.call('closeLook', { params: { copyId: l.copyOf(0) } });
    const mark = {
      v: 2,
      id: id<string>(),
      document: look.sheets[0].document.id,
      page: 0,
      colour: 'graphite',
      focus: null,
      madeAt: 1,
      kind: 'ink',
      points: [100, 100, 128, 900, 900, 128],
      width: 2,
    };
    const drawn = { id: id<ChangeId>(), base: null, type: 'put', was: null, mark } as CopyChange;
    await l.send(0, drawn);
    await l.send(0, { id: id<ChangeId>(), base: drawn.id, type: 'remove', of: mark.id, was: mark } as never);
    const params = { copyId: l.copyOf(0) };
    const mine = await l.pupils[0]!.call('trail', { params });
    const seen = await l.teacher.call('trail', { params });
    expect(seen.body).toEqual(mine.body);
    expect(seen.body.trail.lines.map((x: Loose) => x.step)).toEqual([
      ['t', 0, 0, 'the hill'],
      ['t', 8, 0, ' is steep', 9],
      ['+', 2],
      ['-'],
    ]);
    expect(seen.body.trail.strokes).toHaveLength(1);
    expect((await l.pupils[0]!.call('work', { params })).body.state.marks).toMatchObject([{ mark: null }]);
    expect((await l.pupils[1]!.call('trail', { params })).status).toBe(404);
  });

  test('of 20,000 changes comes whole, and ends as the copy stands', async () => {
    const l = await lesson(['ada']);
    const q = l.questions[1]!;
    const copyId = l.copyOf(0);
    const rows: unknown[][] = [];
    // Three letters on, one taken away, again and again.
    let text = '';
    for (let seq = 1; seq < 20_000; seq++) {
      const next = seq % 4 === 0 || text.length > 300 ? text.slice(0, -1) : `${text}${'abc'[seq % 3]}`;
      const cut = text.length - next.length;
      const step = cut > 0 ? ['t', next.length, cut, ''] : ['t', text.length, 0, next.slice(text.length)];
      rows.push([copyId, seq, id(), new Date(1_764_000_000_000 + seq * 400), q.id, JSON.stringify(step)]);
      text = next;
    }
    for (let i = 0; i < rows.length; i += 5000)
      await running.house.db.query(
        'INSERT INTO copy_trail (copy_id, seq, change_id, at, subject, value) VALUES ?',
        [rows.slice(i, i + 5000)],
      );
    await running.house.db.query(
      'INSERT INTO copy_answer (copy_id, question_id, version, seq, value) VALUES (?, ?, ?, ?, ?)',
      [copyId, q.id, rows.at(-1)![2], rows.length, text],
    );
    await l.send(0, write(q, `${text}!`, rows.at(-1)![2] as ChangeId, text));
    const { status, body } = await l.teacher.call('trail', { params: { copyId } });
    expect([status, body.trail.lines.length]).toEqual([200, 20_000]);
    const reader = new TrailReader(body.trail.lines);
    expect(reader.at(20_000).answers.get(q.id)).toBe(`${text}!`);
    expect(reader.at(3).answers.get(q.id)).toBe('bca');
    expect(sittingsOf(body.trail.lines).length).toBeGreaterThan(0);
  });
});
