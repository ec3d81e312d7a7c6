import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, smallClass, testServer } from '../testing/house.ts';
import { MOST_LINES } from './lines.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

/** A line that is open: resolves when the server ends it. */
async function line(caller: Caller, path: string) {
  const stop = new AbortController();
  const response = await caller.raw('GET', path, { signal: stop.signal });
  const ended = (async () => {
    for await (const _ of response.body!);
    return 'ended' as const;
  })().catch(() => 'cut' as const);
  return { status: response.status, ended, close: () => stop.abort() };
}

const within = (ended: Promise<'ended' | 'cut'>) =>
  Promise.race([ended, new Promise<'open'>((r) => setTimeout(() => r('open'), 3000))]);

test('a line ends with the session it was opened in', async () => {
  const { students, copyOf } = await smallClass(running);
  const first = await new Caller(running.address).signIn(students[0]!.login);
  const second = await new Caller(running.address).signIn(students[0]!.login);
  const open = [await line(first, '/api/news/live'), await line(first, `/api/work/${copyOf(0)}/live`)];
  const other = await line(second, '/api/news/live');
  await first.call('signOut', { body: {} });
  expect(await Promise.all(open.map((l) => within(l.ended)))).toEqual(['ended', 'ended']);
  expect(await Promise.race([other.ended, Promise.resolve('open')])).toBe('open');
  other.close();
});

test('and with the membership: a colleague who leaves the class hears nothing of it any more', async () => {
  const s = await handedIn(running);
  const { teacher } = await smallClass(running);
  await s.teacherCaller.call('addTeacher', {
    params: { classId: s.classId },
    body: { login: teacher.login },
  });
  const colleague = await new Caller(running.address).signIn(teacher.login);
  const room = await line(colleague, `/api/assignments/${s.assignmentId}/live`);
  const news = await line(colleague, '/api/news/live');
  expect(room.status).toBe(200);
  await s.teacherCaller.call('removeTeacher', { params: { classId: s.classId, personId: teacher.id } });
  expect(await within(room.ended)).toBe('ended');
  expect(await Promise.race([news.ended, Promise.resolve('open')])).toBe('open');
  news.close();
});

test('one person has so many lines at most; when one closes there is room again', async () => {
  const { students } = await smallClass(running);
  const caller = await new Caller(running.address).signIn(students[0]!.login);
  const all = await Promise.all(Array.from({ length: MOST_LINES }, () => line(caller, '/api/news/live')));
  const more = await caller.raw('GET', '/api/news/live');
  expect([more.status, ((await more.json()) as { error: { code: string } }).error.code]).toEqual([
    429,
    'too-many-lines',
  ]);
  all[0]!.close();
  await all[0]!.ended;
  await expect
    .poll(async () => {
      const again = await line(caller, '/api/news/live');
      again.close();
      return again.status;
    })
    .toBe(200);
  for (const l of all) l.close();
});
