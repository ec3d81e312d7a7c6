import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { type Loose, testServer } from '../testing/house.ts';
import { closing, done, grade, note, put } from '../testing/marks.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

test('how a work came back before it was improved stays with its student and its teachers, and with nobody else', async () => {
  const h = await handedIn(running);
  const copy = { params: { copyId: h.copyId } };
  const work = async () => (await h.student.call('work', copy)).body as Loose;
  const handBack = () =>
    h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
  await h.send(put(note(h.documentId, 'Count again')), closing('A good start.'), grade(700), done(true));
  await handBack();
  const first = (await work()).handBack.id;
  expect((await work()).earlier).toEqual([]);
  await h.student.handIn(h.copyId);
  const desk = (await h.teacherCaller.call('desk', copy)).body as Loose;
  await h.teacherCaller.call('sendChanges', {
    params: { handInId: desk.handIn.id },
    body: { changes: [grade(900), done(true)] },
  });
  await handBack();

  const now = await work();
  expect(now.handBack).toMatchObject({ handInNumber: 2 });
  expect(now.earlier).toMatchObject([{ id: first, handInNumber: 1 }]);
  const read = (who: typeof h.student) => who.call('handBackAsItWent', { params: { handBackId: first } });
  for (const who of [h.student, h.teacherCaller]) {
    const { body } = await read(who);
    expect(body).toMatchObject({ handInNumber: 1, snapshot: { closing: 'A good start.', grade: 700 } });
    expect(body.snapshot.marks).toHaveLength(1);
    expect(body.documents).toHaveLength(1);
  }
  const beside = (await h.teacherCaller.call('beside', copy)).body as Loose;
  expect(beside.earlier).toMatchObject([{ number: 1, handBackId: first }]);
  const other = await handedIn(running);
  for (const who of [other.student, other.teacherCaller]) expect((await read(who)).status).toBe(404);
});

test('what was recalled is no earlier hand-back', async () => {
  const h = await handedIn(running);
  const pile = { params: { assignmentId: h.assignmentId } };
  await h.send(grade(700), done(true));
  await h.teacherCaller.call('handBack', { ...pile, body: { copyIds: [h.copyId] } });
  const work = async () => (await h.student.call('work', { params: { copyId: h.copyId } })).body as Loose;
  const { id } = (await work()).handBack;
  await h.teacherCaller.call('recall', { ...pile, body: { copyIds: [h.copyId], tell: true, words: '' } });
  expect((await work()).earlier).toEqual([]);
  for (const who of [h.student, h.teacherCaller])
    expect((await who.call('handBackAsItWent', { params: { handBackId: id } })).status).toBe(404);
});
