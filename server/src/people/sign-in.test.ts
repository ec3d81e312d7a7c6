import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, PASSWORD, smallClass, testServer } from '../testing/house.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({}, { now: () => clock });
});
afterAll(() => running.stop());

const attempt = (caller: Caller, login: string, password: string) =>
  caller.call('signIn', { body: { login, password } });

describe('signing in', () => {
  test('gives a cookie that scripts cannot read and other sites do not send', async () => {
    const { teacher } = await smallClass(running);
    const reply = await new Caller(running.address).raw('POST', '/api/sign-in', {
      body: JSON.stringify({ login: teacher.login, password: PASSWORD }),
      headers: { 'content-type': 'application/json' },
    });
    expect(reply.headers.get('set-cookie')).toMatch(/^jotmark=[\w-]{43};.*HttpOnly; SameSite=Lax/);
    expect(await reply.json()).toMatchObject({
      person: { login: teacher.login, role: 'teacher' },
      demo: null,
      standIns: false,
    });
  });

  test('keeps passwords as argon2id and sessions as hashes', async () => {
    const { teacher } = await smallClass(running);
    await new Caller(running.address).signIn(teacher.login);
    const [person] = await running.house.db.query('SELECT password_hash FROM person WHERE id = ?', [
      teacher.id,
    ]);
    expect(person.password_hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    const [session] = await running.house.db.query('SELECT token_hash FROM session WHERE person_id = ?', [
      teacher.id,
    ]);
    expect(session.token_hash).toMatch(/^[0-9a-f]{64}$/);
  });

  test('says the same of an unknown login and of a wrong password', async () => {
    const { teacher } = await smallClass(running);
    const caller = new Caller(running.address);
    const wrong = await attempt(caller, teacher.login, 'not this one');
    const unknown = await attempt(caller, 'nobody-by-this-name', PASSWORD);
    expect([wrong.status, unknown.status]).toEqual([401, 401]);
    expect(wrong.body).toEqual(unknown.body);
  });

  test('after ten wrong passwords even the right one must wait a quarter of an hour, and other people need not', async () => {
    const { teacher, students } = await smallClass(running);
    const caller = new Caller(running.address);
    for (let i = 0; i < 10; i++)
      expect((await attempt(caller, teacher.login, `wrong ${i}`)).status).toBe(401);
    expect(await attempt(caller, teacher.login, PASSWORD)).toMatchObject({
      status: 429,
      body: { error: { code: 'too-many-attempts', facts: { minutes: 15 } } },
    });
    expect((await attempt(caller, students[0]!.login, PASSWORD)).status).toBe(200);
    clock += 16 * 60_000;
    expect((await attempt(caller, teacher.login, PASSWORD)).status).toBe(200);
  });

  test('ends at sign-out and after two weeks', async () => {
    const { teacher } = await smallClass(running);
    const caller = await new Caller(running.address).signIn(teacher.login);
    expect((await caller.call('today')).status).toBe(200);
    await caller.call('signOut', { body: {} });
    expect((await caller.call('today')).status).toBe(401);
    const another = await new Caller(running.address).signIn(teacher.login);
    clock += 15 * 86_400_000;
    expect((await another.call('today')).status).toBe(401);
  });

  test('offers no demo people unless it is the demo', async () => {
    expect((await new Caller(running.address).call('session')).body.demo).toBeNull();
  });
});
