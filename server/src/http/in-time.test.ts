import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Running, serve } from '../serve.ts';
import { Caller, smallClass, testServer, testSettings } from '../testing/house.ts';

/** A request whose body comes as slowly as one likes. Gives the whole answer when the line was closed. */
function slowly(address: string, head: readonly string[]): { socket: Socket; answer: Promise<string> } {
  const { port } = new URL(address);
  const socket = connect(Number(port), '127.0.0.1');
  socket.write([...head, 'Host: 127.0.0.1', '', ''].join('\r\n'));
  let said = '';
  socket.on('data', (bytes) => {
    said += bytes;
  });
  socket.on('error', () => {});
  return { socket, answer: new Promise((resolve) => socket.on('close', () => resolve(said))) };
}

describe('a body that hardly comes', () => {
  let running: Running;
  beforeAll(async () => {
    running = await testServer({ slowBodyMs: 400 });
  });
  afterAll(() => running.stop());

  test('is told so and the line closed, also where nobody is signed in', async () => {
    const { socket, answer } = slowly(running.address, [
      'POST /api/sign-in HTTP/1.1',
      'Content-Type: application/json',
      'Content-Length: 1000',
    ]);
    const drip = setInterval(() => socket.write('{'), 50);
    expect(await answer).toMatch(/^HTTP\/1\.1 408 [\s\S]*"code":"too-slow"/);
    clearInterval(drip);
  });

  test('of a file too, where some of it comes but next to nothing', async () => {
    const { students, copyOf } = await smallClass(running);
    const caller = await new Caller(running.address).signIn(students[0]!.login);
    const session = await caller.raw('GET', '/api/session');
    const { token } = (await session.json()) as { token: string };
    const { socket, answer } = slowly(running.address, [
      `POST /api/work/${copyOf(0)}/files HTTP/1.1`,
      'Content-Type: multipart/form-data; boundary=x',
      'Content-Length: 1000000',
      `Cookie: ${caller.cookies()}`,
      `x-jotmark-token: ${token}`,
    ]);
    socket.write('--x\r\nContent-Disposition: form-data; name="file"; filename="a.pdf"\r\n\r\n%PDF');
    const drip = setInterval(() => socket.write('x'), 50);
    expect(await answer).toMatch(/^HTTP\/1\.1 408 /);
    clearInterval(drip);
  });

  test('hundreds of them hold nobody up', async () => {
    const lines = Array.from({ length: 200 }, () =>
      slowly(running.address, [
        'POST /api/sign-in HTTP/1.1',
        'Content-Type: application/json',
        'Content-Length: 1000',
      ]),
    );
    for (let i = 0; i < 5; i++) expect((await fetch(`${running.address}/api/health`)).status).toBe(200);
    await Promise.all(lines.map((l) => l.answer));
  });
});

/** A database server of this test's own: that of the others must not hang. */
interface Own {
  readonly pid: number;
  url(name: string): string;
  stop(): Promise<void>;
}

describe('a database that hangs', () => {
  const folder = mkdtempSync(join(tmpdir(), 'jotmark-hangs-'));
  let database: Own;
  let running: Running;
  beforeAll(async () => {
    const { startMariaDb } = (await import(
      new URL('../../../scripts/mariadb.mjs', import.meta.url).href
    )) as { startMariaDb(dir: string, first: undefined, how: object): Promise<Own> };
    database = await startMariaDb(folder, undefined, { throwaway: true });
    running = await serve(testSettings(database.url('jotmark')));
  }, 60_000);
  afterAll(async () => {
    await running.stop();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('everything answers within five seconds, says why, and goes on when it is back', async () => {
    const { students } = await smallClass(running);
    const caller = await new Caller(running.address).signIn(students[0]!.login);
    spawn('kill', ['-STOP', String(database.pid)]);
    const began = Date.now();
    const replies = await Promise.all([
      caller.call('workList'),
      caller.call('session'),
      new Caller(running.address).call('signIn', { body: { login: 'x', password: 'y' } }),
      new Caller(running.address).call('health'),
    ]);
    const took = Date.now() - began;
    spawn('kill', ['-CONT', String(database.pid)]);
    expect(replies.map((r) => [r.status, r.body.error?.code])).toEqual(
      replies.map(() => [503, 'database-away']),
    );
    // The promise is about time, so the time is what is tested.
    expect(took).toBeLessThan(5000);
    await expect.poll(async () => (await caller.call('workList')).status, { timeout: 10_000 }).toBe(200);
  }, 30_000);
});
