import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { type Loose, testServer } from '../testing/house.ts';
import { done, grade } from '../testing/marks.ts';

let running: Running | null = null;
let ahead = 0;
const closers: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  await running?.stop();
  running = null;
  ahead = 0;
  for (const close of closers.splice(0)) await close();
});

const begin = async (mail: { server: string | null; folder: string | null }) => {
  running = await testServer({ mail: { domain: 'school.test', ...mail } }, { now: () => Date.now() + ahead });
  const h = await handedIn(running);
  await h.send(grade(870), done(true));
  await h.teacherCaller.call('handBack', {
    params: { assignmentId: h.assignmentId },
    body: { copyIds: [h.copyId] },
  });
  const back = async (): Promise<Loose> =>
    (await h.teacherCaller.call('mails', {})).body.mails.find((m: Loose) => m.subject.includes('is back'));
  return { h, back };
};

async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 400; i++) {
    if (await holds()) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('it never came');
}

/** A mail server that takes everything, as RFC 5321 has it. Gives the letters that came. */
async function mailServer(port = 0): Promise<{ letters: string[]; port: number; server: Server }> {
  const letters: string[] = [];
  const server = createServer((socket) => {
    let [data, taking] = ['', false];
    const say = (line: string) => socket.write(`${line}\r\n`);
    say('220 mail.school.test');
    socket.on('error', () => {});
    socket.on('data', (chunk) => {
      data += chunk;
      for (;;) {
        const end = taking ? data.indexOf('\r\n.\r\n') : data.indexOf('\r\n');
        if (end < 0) return;
        const line = data.slice(0, end);
        data = data.slice(end + (taking ? 5 : 2));
        if (taking) letters.push(line);
        if (taking) say('250 taken');
        else if (line === 'DATA') say('354 go on');
        else if (line === 'QUIT') say('221 bye');
        else say('250 ok');
        taking = !taking && line === 'DATA';
      }
    });
  });
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
  closers.push(() => new Promise((resolve) => server.close(resolve)));
  return { letters, port: (server.address() as AddressInfo).port, server };
}

describe('the post', () => {
  test('without a mail server letters are files that any mail program opens', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'jotmark-post-'));
    closers.push(() => rm(folder, { recursive: true }));
    const { back } = await begin({ server: null, folder });
    await until(async () => (await back())?.sentAt != null);
    const { id } = await back();
    expect(await readdir(folder)).toContain(`${id}.eml`);
    const text = await readFile(join(folder, `${id}.eml`), 'utf8');
    expect(text).toMatch(/^Message-ID: <.*@school\.test>$/m);
    expect(text).toMatch(/^From: Test school <jotmark@school\.test>/m);
    expect(text).not.toMatch(/8[.,]7|870/);
  });

  test('with one they go to it, each once', async () => {
    const { letters, port } = await mailServer();
    const { back } = await begin({ server: `smtp://127.0.0.1:${port}`, folder: null });
    await until(async () => (await back())?.sentAt != null);
    const { id } = await back();
    expect(letters.filter((l) => l.includes(`<${id}@school.test>`))).toHaveLength(1);
  });

  test('one that is away is tried again, what is wrong stands in the outbox, and nothing else waits for it', async () => {
    const { port, server } = await mailServer();
    await new Promise((resolve) => server.close(resolve));
    const { h, back } = await begin({ server: `smtp://127.0.0.1:${port}`, folder: null });
    await until(async () => (await back())?.trouble != null);
    expect(await back()).toMatchObject({ sentAt: null });
    // The copy came back all the same.
    expect((await h.student.call('work', { params: { copyId: h.copyId } })).body.handBack).not.toBeNull();
    // A day later it is there again.
    const again = await mailServer(port);
    ahead = 24 * 3_600_000;
    running!.runner.nudge();
    await until(async () => (await back())?.sentAt != null);
    expect(await back()).toMatchObject({ trouble: null });
    expect(again.letters.some((l) => l.includes('is back'))).toBe(true);
  });
});
