import type { AssignmentSheet, TakingBack } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, smallClass, testServer } from '../testing/house.ts';
import { done } from '../testing/marks.ts';

let running: Running;
let clock = Date.UTC(2031, 4, 9, 12);
const DUE = Date.UTC(2031, 4, 9, 18);
beforeAll(async () => {
  running = await testServer({}, { now: () => clock });
});
afterAll(() => running.stop());

/** A copy that was handed in, under this rule. */
async function under(takeBack: TakingBack, dueAt: number | null = DUE) {
  clock = DUE - 3_600_000;
  const s = await smallClass(running, ['ada', 'ben'], dueAt);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const student = await new Caller(running.address).signIn(s.students[0]!.login);
  const params = { assignmentId: s.assignmentId };
  const { revision, words } = (await teacher.call('assignment', { params })).body as AssignmentSheet;
  await teacher.call('saveAssignment', {
    params,
    body: {
      revision,
      words: { ...words, takeBack, handsIn: false },
      audience: { alsoClasses: [], students: null },
      news: null,
    },
  });
  const copyId = s.copyOf(0);
  const handInId = (await student.handIn(copyId)).body.handIn.id as string;
  return {
    teacher,
    student,
    copyId,
    assignmentId: s.assignmentId,
    back: () => student.call('takeBack', { params: { copyId } }),
    mark: () => teacher.call('sendChanges', { params: { handInId }, body: { changes: [done(true)] } }),
    desk: () => teacher.call('desk', { params: { copyId } }),
    work: () => student.call('work', { params: { copyId } }),
  };
}

describe('taking back by the rule that the teacher sets', () => {
  test('never: refused from the first moment', async () => {
    const h = await under('never');
    expect((await h.work()).body.takeBack).toBe('never');
    expect((await h.back()).body.error.code).toBe('not-to-take-back');
    expect((await h.mark()).status).toBe(200);
  });

  test('until it is due: kept to, since marking cannot begin before; then it can, and taking back is over', async () => {
    const h = await under('until-due');
    expect((await h.desk()).body.openUntil).toBe(DUE);
    expect((await h.mark()).body.error).toEqual({ code: 'still-open', facts: { until: DUE } });
    expect((await h.back()).status).toBe(200);
    await h.student.handIn(h.copyId);
    clock = DUE;
    expect((await h.desk()).body.openUntil).toBeNull();
    expect((await h.back()).body.error.code).toBe('not-to-take-back');
  });

  test('until it is due follows a student’s own date', async () => {
    const h = await under('until-due');
    await h.teacher.call('pileTerms', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId], dueAt: DUE + 86_400_000 },
    });
    clock = DUE + 1000;
    expect((await h.back()).status).toBe(200);
  });

  test('a teacher with time before the date ends taking back for all, and marks', async () => {
    const h = await under('until-due');
    await h.teacher.call('closeTakingBack', { params: { assignmentId: h.assignmentId }, body: {} });
    expect((await h.desk()).body.openUntil).toBeNull();
    expect((await h.mark()).status).toBe(200);
    expect((await h.back()).body.error).toEqual({ code: 'not-to-take-back', facts: {} });
  });

  test('without a date, until it is due is over at once', async () => {
    const h = await under('until-due', null);
    expect((await h.back()).status).toBe(409);
    expect((await h.mark()).status).toBe(200);
  });

  test('what a student gets to see is the same to the letter, marked or not, until it goes back', async () => {
    for (const rule of ['until-marked', 'never'] as const) {
      const h = await under(rule);
      const before = JSON.stringify((await h.work()).body);
      await h.mark();
      expect(JSON.stringify((await h.work()).body), rule).toBe(before);
    }
    const [never, marked] = [await under('never'), await under('until-marked')];
    await marked.mark();
    expect((await marked.back()).body).toEqual((await never.back()).body);
  });
});
