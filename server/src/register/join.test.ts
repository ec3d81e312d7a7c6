import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, type Loose, newPerson, smallClass, testServer } from '../testing/house.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({}, { now: () => clock });
});
afterAll(() => running.stop());

const sign = (login: string) => new Caller(running.address).signIn(login);
const join = (who: Caller, code: string) => who.call('askToJoin', { body: { code } });

/** A class with a code, and a student of another class. */
async function withCode() {
  const mine = await smallClass(running, ['ada']);
  const other = await smallClass(running, ['kim']);
  const teacher = await sign(mine.teacher.login);
  const kim = await sign(other.students[0]!.login);
  const params = { classId: mine.classId };
  const set = async (on: boolean) => (await teacher.call('joinCode', { params, body: { on } })).body.code;
  const register = async () => (await teacher.call('register', { params })).body as Loose;
  const inClass = async () =>
    (await register()).students.filter((p: Loose) => !p.left).map((p: Loose) => p.login);
  const answer = async (who: Caller, granted: boolean) => {
    const [open] = (await teacher.call('consents')).body.filter((c: Loose) => c.byStudent);
    return who.call('answerConsent', { params: { consentId: open.id }, body: { granted } });
  };
  return { mine, other, teacher, kim, code: (await set(true)) as string, set, register, inClass, answer };
}

describe('a code to join a class by', () => {
  test('brings nobody in by itself: the teacher hears of it and lets them in; then they have what is set', async () => {
    const c = await withCode();
    expect((await c.register()).joinCode).toBe(c.code);
    expect((await join(c.kim, c.code)).body).toEqual({ className: '7X', state: 'asked' });
    expect(await c.inClass()).not.toContain(c.other.students[0]!.login);
    expect((await c.kim.call('workList')).body).toHaveLength(1);
    expect((await c.teacher.call('news')).body.notices[0]).toMatchObject({
      kind: 'join-asked',
      who: expect.stringContaining('kim'),
    });
    expect((await c.kim.call('consents')).body).toMatchObject([{ mine: true, byStudent: true }]);
    // Asked twice it is one question.
    await join(c.kim, c.code);
    expect((await c.teacher.call('consents')).body).toHaveLength(1);
    expect((await c.answer(c.teacher, true)).status).toBe(200);
    expect(await c.inClass()).toContain(c.other.students[0]!.login);
    expect((await c.kim.call('workList')).body).toHaveLength(2);
    expect((await c.kim.call('news')).body.notices[0]).toMatchObject({
      kind: 'join-answered',
      count: 1,
      words: '7X',
    });
    expect((await join(c.kim, c.code)).body.state).toBe('here');
  });

  test('leads nowhere when the teacher refuses, and one may ask again', async () => {
    const c = await withCode();
    await join(c.kim, c.code);
    expect((await c.answer(c.teacher, false)).status).toBe(200);
    expect(await c.inClass()).not.toContain(c.other.students[0]!.login);
    expect((await c.kim.call('consents')).body).toEqual([]);
    expect((await join(c.kim, c.code)).body.state).toBe('asked');
  });

  test('nobody answers but the teachers of that class and the administrators: not who asks, not a teacher who has them elsewhere', async () => {
    const c = await withCode();
    await join(c.kim, c.code);
    const elsewhere = await sign(c.other.teacher.login);
    const stranger = await sign((await newPerson(running, 'teacher', 'stranger')).login);
    for (const who of [c.kim, elsewhere, stranger]) expect((await c.answer(who, true)).status).toBe(404);
    expect((await elsewhere.call('consents')).body).toEqual([]);
    const admin = await sign((await newPerson(running, 'administrator', 'head')).login);
    expect((await c.answer(admin, true)).status).toBe(200);
  });

  test('a new one ends the old; ended, or of an archived class, there is none; who asked still waits', async () => {
    const c = await withCode();
    const next = await c.set(true);
    expect(next).not.toBe(c.code);
    expect((await join(c.kim, c.code)).body.error.code).toBe('no-such-code');
    expect((await join(c.kim, next)).status).toBe(200);
    expect(await c.set(false)).toBeNull();
    const ada = await sign(c.mine.students[0]!.login);
    expect((await join(ada, next)).body.error.code).toBe('no-such-code');
    expect((await c.answer(c.teacher, true)).status).toBe(200);
    const again = await c.set(true);
    await c.teacher.call('archiveClass', { params: { classId: c.mine.classId }, body: { archived: true } });
    expect((await join(c.kim, again)).body.error.code).toBe('no-such-code');
  });

  test('cannot be guessed: after twenty tries in an hour nothing is tried any more, the right one neither', async () => {
    const c = await withCode();
    for (let i = 0; i < 20; i++) expect((await join(c.kim, 'AAAAAA')).body.error.code).toBe('no-such-code');
    expect((await join(c.kim, c.code)).body.error).toMatchObject({
      code: 'too-much-at-once',
      facts: { what: 'joins' },
    });
    clock += 3_600_000;
    expect((await join(c.kim, c.code)).body.state).toBe('asked');
  });

  test('many at once ask once each, and are all let in', async () => {
    const c = await withCode();
    const more = await smallClass(running, ['p0', 'p1', 'p2', 'p3', 'p4', 'p5']);
    const all = await Promise.all(more.students.map((s) => sign(s.login)));
    await Promise.all([...all, ...all].map((s) => join(s, c.code)));
    const open = (await c.teacher.call('consents')).body as Loose[];
    expect(open).toHaveLength(6);
    const replies = await Promise.all(
      open.map((q) =>
        c.teacher.call('answerConsent', { params: { consentId: q.id }, body: { granted: true } }),
      ),
    );
    expect(replies.map((r) => r.status)).toEqual(Array(6).fill(200));
    expect(await c.inClass()).toHaveLength(7);
  });
});
