import { afterAll, beforeAll, expect, test } from 'vitest';
import { addWorksheet } from '../assignment/materials.ts';
import { addClass, setAssignment } from '../assignment/set.ts';
import type { Running } from '../serve.ts';
import { Caller, smallClass, testServer } from '../testing/house.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

test('a colleague whose class has a worksheet looks at it and is told why it is not theirs to change; another sees nothing of it', async () => {
  const [a, b, c] = [await smallClass(running), await smallClass(running), await smallClass(running)];
  const [maker, colleague, stranger] = [
    await new Caller(running.address).signIn(a.teacher.login),
    await new Caller(running.address).signIn(b.teacher.login),
    await new Caller(running.address).signIn(c.teacher.login),
  ];
  const worksheetId = await madeWorksheet(maker);
  const params = { worksheetId };
  const { versionId, revision } = await worksheetRead(maker, worksheetId);
  const classId = await addClass(running.house, {
    name: '7Y',
    unit: 'Maps',
    teachers: [a.teacher.id, b.teacher.id],
    students: [],
  });
  await setAssignment(
    running.house,
    { classId, title: 'Together', instructions: '', dueAt: null, most: null },
    (id) => addWorksheet(running.house, id, worksheetId as never),
  );
  const body = { versionId, revision, questions: [question(0, { kind: 'line' })] };
  expect((await maker.call('worksheet', { params })).body.mine).toBe(true);
  expect((await colleague.call('worksheet', { params })).body.mine).toBe(false);
  expect(await colleague.call('saveQuestions', { params, body })).toMatchObject({
    status: 403,
    body: { error: { code: 'not-your-worksheet' } },
  });
  for (const call of ['worksheet', 'saveQuestions'] as const)
    expect((await stranger.call(call, call === 'worksheet' ? { params } : { params, body })).status).toBe(
      404,
    );
  expect((await maker.call('saveQuestions', { params, body })).status).toBe(200);
});
