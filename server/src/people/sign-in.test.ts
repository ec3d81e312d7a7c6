import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, PASSWORD, smallClass, testServer } from '../testing/house.ts';
import { sweepAttempts, tryPassword } from './attempts.ts';

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

  test('five wrong passwords are free; then each doubles the wait, for this login from this address alone', async () => {
    const { teacher, students } = await smallClass(running);
    const caller = new Caller(running.address);
    for (let i = 0; i < 6; i++) expect((await attempt(caller, teacher.login, `wrong ${i}`)).status).toBe(401);
    // Even the right one waits, and to wait costs nothing more.
    for (let i = 0; i < 3; i++)
      expect(await attempt(caller, teacher.login, PASSWORD)).toMatchObject({
        status: 429,
        body: { error: { code: 'too-many-attempts', facts: { seconds: 2 } } },
      });
    expect((await attempt(caller, students[0]!.login, PASSWORD)).status).toBe(200);
    clock += 2000;
    expect((await attempt(caller, teacher.login, 'wrong again')).status).toBe(401);
    expect((await attempt(caller, teacher.login, PASSWORD)).body.error.facts).toEqual({ seconds: 4 });
    clock += 4000;
    expect((await attempt(caller, teacher.login, PASSWORD)).status).toBe(200);
    // Who was right begins anew.
    expect((await attempt(new Caller(running.address), teacher.login, 'wrong')).status).toBe(401);
    expect((await attempt(new Caller(running.address), teacher.login, PASSWORD)).status).toBe(200);
  });

  test('many guesses at the same moment are counted like many one after another; many right ones only wait for their turn', async () => {
    const { teacher, students } = await smallClass(running);
    const at = (login: string, password: (i: number) => string) =>
      Promise.all(
        Array.from({ length: 20 }, (_, i) => attempt(new Caller(running.address), login, password(i))),
      );
    const wrong = await at(teacher.login, (i) => `wrong ${i}`);
    expect(wrong.filter((r) => r.status === 401)).toHaveLength(6);
    expect(wrong.filter((r) => r.status === 429)).toHaveLength(14);
    const right = await at(students[0]!.login, () => PASSWORD);
    expect(right.map((r) => r.status)).toEqual(Array(20).fill(200));
    clock += 3_700_000;
  });

  test('a browser in which one has signed in before is not held up by what others do in one’s name', async () => {
    const { teacher, students } = await smallClass(running);
    const known = await new Caller(running.address).signIn(teacher.login);
    await known.call('signOut', { body: {} });
    const others = new Caller(running.address);
    for (let i = 0; i < 7; i++) await attempt(others, teacher.login, `wrong ${i}`);
    expect((await attempt(others, teacher.login, PASSWORD)).status).toBe(429);
    expect((await attempt(known, teacher.login, PASSWORD)).status).toBe(200);
    // It is known to whom it was used by, and to nobody else.
    for (let i = 0; i < 7; i++) await attempt(others, students[0]!.login, `wrong ${i}`);
    expect((await attempt(known, students[0]!.login, PASSWORD)).status).toBe(429);
    // And its own wrong passwords are counted like anybody's.
    for (let i = 0; i < 6; i++) await attempt(known, teacher.login, `wrong ${i}`);
    expect((await attempt(known, teacher.login, PASSWORD)).status).toBe(429);
    clock += 3_700_000;
  });

  test('a school behind one address: three hundred wrong passwords hold up everybody there for five seconds at most', async () => {
    const { teacher } = await smallClass(running);
    await running.house.db.query(
      `INSERT INTO attempt (name, hits, reset_at, last_at) VALUES ('address:127.0.0.1', 300, ?, ?)
       ON DUPLICATE KEY UPDATE hits = 300, reset_at = VALUES(reset_at), last_at = VALUES(last_at)`,
      [new Date(clock + 3_600_000), new Date(clock)],
    );
    const caller = new Caller(running.address);
    expect((await attempt(caller, teacher.login, PASSWORD)).body.error.facts).toEqual({ seconds: 5 });
    clock += 5000;
    expect((await attempt(caller, teacher.login, PASSWORD)).status).toBe(200);
    clock += 3_700_000;
  });

  test('what is forgotten is swept, and what the database could not do is not counted as wrong', async () => {
    const { teacher } = await smallClass(running);
    const { db } = running.house;
    const rows = async () => (await db.query('SELECT name FROM attempt')).length;
    await attempt(new Caller(running.address), teacher.login, 'wrong');
    expect(await rows()).toBeGreaterThan(0);
    clock += 3_700_000;
    await sweepAttempts(running.house);
    expect(await rows()).toBe(0);
    await expect(
      tryPassword(running.house, { login: 'x', address: 'y', knownDevice: null }, () =>
        Promise.reject(new Error('away')),
      ),
    ).rejects.toThrow('away');
    const counts: { hits: number }[] = await db.query('SELECT hits FROM attempt');
    expect(counts.every((c) => c.hits === 0)).toBe(true);
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
