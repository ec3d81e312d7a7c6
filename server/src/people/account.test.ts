import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, newPerson, PASSWORD, smallClass, testServer } from '../testing/house.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({}, { now: () => clock });
});
afterAll(() => running.stop());

const FIREFOX = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0';

describe('where one is signed in', () => {
  test('each browser is listed with what it is and when it was last used, and ended one by one or all at once', async () => {
    const { teacher } = await smallClass(running);
    const here = await new Caller(running.address).signIn(teacher.login);
    const there = new Caller(running.address);
    await there.raw('POST', '/api/sign-in', {
      body: JSON.stringify({ login: teacher.login, password: PASSWORD }),
      headers: { 'content-type': 'application/json', 'user-agent': FIREFOX },
    });
    const third = await new Caller(running.address).signIn(teacher.login);
    const { sessions } = (await here.call('account')).body;
    expect(sessions).toHaveLength(3);
    expect(sessions.filter((s: { here: boolean }) => s.here)).toHaveLength(1);
    const firefox = sessions.find((s: { device: string }) => s.device === 'Firefox on Windows');
    expect(firefox.usedAt).toBeTruthy();
    await here.call('endSession', { params: { sessionId: firefox.id }, body: {} });
    expect((await there.call('today')).status).toBe(401);
    expect((await third.call('today')).status).toBe(200);
    await here.call('endOtherSessions', { body: {} });
    expect((await third.call('today')).status).toBe(401);
    expect((await here.call('account')).body.sessions).toHaveLength(1);
  });

  test('nobody ends another’s, and what is told of a session opens nothing', async () => {
    const { teacher, students } = await smallClass(running);
    const mine = await new Caller(running.address).signIn(teacher.login);
    const student = await new Caller(running.address).signIn(students[0]!.login);
    const [{ id }] = (await mine.call('account')).body.sessions;
    expect((await student.call('endSession', { params: { sessionId: id }, body: {} })).status).toBe(404);
    expect((await mine.call('today')).status).toBe(200);
    const asCookie = await new Caller(running.address).raw('GET', '/api/today', {
      headers: { cookie: `jotmark=${id.padEnd(43, 'x')}` },
    });
    expect(asCookie.status).toBe(401);
  });

  test('the old password is asked for with a limit', async () => {
    const { teacher } = await smallClass(running);
    const caller = await new Caller(running.address).signIn(teacher.login);
    const change = (old: string) =>
      caller.call('changePassword', { body: { old, next: 'a-long-new-password' } });
    for (let i = 0; i < 6; i++) expect((await change(`wrong ${i}`)).status).toBe(403);
    expect((await change(PASSWORD)).status).toBe(429);
    clock += 2000;
    expect((await change(PASSWORD)).status).toBe(200);
  });
});

describe('a second step', () => {
  const code = (secret: string, at: number) =>
    new TOTP({ algorithm: 'SHA1', digits: 6, period: 30, secret: Secret.fromBase32(secret) }).generate({
      timestamp: at,
    });
  const signIn = (login: string, body: object = {}) =>
    new Caller(running.address).call('signIn', { body: { login, password: PASSWORD, ...body } });

  test('is asked for after the password, takes each code once, and goes with the password', async () => {
    const { login } = await newPerson(running, 'teacher');
    const caller = await new Caller(running.address).signIn(login);
    expect((await caller.call('startStep', { body: { password: 'wrong' } })).status).toBe(403);
    const { seed: secret, address } = (await caller.call('startStep', { body: { password: PASSWORD } })).body;
    expect(address).toMatch(/^otpauth:\/\/totp\/Test%20school:teacher-/);
    // Until the app has shown a right code, nothing is asked for.
    expect((await signIn(login)).status).toBe(200);
    expect((await caller.call('confirmStep', { body: { code: '000000' } })).body.error.code).toBe(
      'wrong-code',
    );
    await caller.call('confirmStep', { body: { code: code(secret, clock) } });
    expect((await signIn(login)).body.error.code).toBe('second-step');
    expect((await signIn(login, { password: 'wrong' })).body.error.code).toBe('wrong-password');
    // The code of the confirmation is used up.
    expect((await signIn(login, { code: code(secret, clock) })).body.error.code).toBe('wrong-code');
    clock += 30_000;
    const now = code(secret, clock);
    const both = await Promise.all([signIn(login, { code: now }), signIn(login, { code: now })]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 401]);
    // A phone that is half a minute behind, not one that is two.
    clock += 90_000;
    expect((await signIn(login, { code: code(secret, clock - 60_000) })).status).toBe(401);
    expect((await signIn(login, { code: code(secret, clock - 30_000) })).status).toBe(200);
    expect((await caller.call('dropStep', { body: { password: PASSWORD } })).status).toBe(200);
    expect((await signIn(login)).status).toBe(200);
  });

  test('codes are guessed no quicker than passwords', async () => {
    const { login } = await newPerson(running, 'teacher');
    const caller = await new Caller(running.address).signIn(login);
    const { seed: secret } = (await caller.call('startStep', { body: { password: PASSWORD } })).body;
    await caller.call('confirmStep', { body: { code: code(secret, clock) } });
    const statuses: number[] = [];
    for (let i = 0; i < 8; i++) statuses.push((await signIn(login, { code: String(100_000 + i) })).status);
    expect(statuses).toEqual([401, 401, 401, 401, 401, 401, 429, 429]);
    clock += 3_700_000;
  });

  test('is not for students; where the school requires it a teacher gets nowhere else before, and students are not asked', async () => {
    const strict = await testServer({ secondStep: 'required' });
    try {
      const { teacher, students } = await smallClass(strict);
      const caller = await new Caller(strict.address).signIn(teacher.login);
      expect((await caller.call('session')).body.needsStep).toBe(true);
      expect((await caller.call('classes')).body.error.code).toBe('second-step-needed');
      expect((await caller.call('today')).status).toBe(403);
      // Nobody is kept in: leaving needs the key for what was not sent.
      expect((await caller.call('deviceKey')).status).toBe(200);
      const student = await new Caller(strict.address).signIn(students[0]!.login);
      expect((await student.call('workList')).status).toBe(200);
      expect((await student.call('startStep', { body: { password: PASSWORD } })).status).toBe(403);
      const { seed: secret } = (await caller.call('startStep', { body: { password: PASSWORD } })).body;
      await caller.call('confirmStep', { body: { code: code(secret, Date.now()) } });
      expect((await caller.call('today')).status).toBe(200);
    } finally {
      await strict.stop();
    }
  });
});
