import { request } from 'node:http';
import { routes } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, testServer } from '../testing/house.ts';
import { note, put } from '../testing/marks.ts';

let running: Running;
let h: Awaited<ReturnType<typeof handedIn>>;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
  h = await handedIn(running);
});
afterAll(() => running.stop());

const path = (handInId: string) => `/api/hand-ins/${handInId}/changes`;

/** Says that a body of 15 MB comes, and sends nothing of it: who answers has not waited for it. */
function answerBeforeBody(to: string): Promise<number> {
  return new Promise((resolve, reject) => {
    const sending = request(`${running.address}${to}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'content-length': '15000000' },
    });
    sending.on('response', (response) => {
      resolve(response.statusCode!);
      sending.destroy();
    });
    sending.on('error', reject);
    sending.flushHeaders();
  });
}

describe('who may call is decided before a body is read', () => {
  test('nobody who is not signed in gets a byte of theirs parsed', async () => {
    expect(await answerBeforeBody(path(h.handInId))).toBe(401);
    expect(await answerBeforeBody('/api/classes')).toBe(401);
  });

  test('nor does a teacher of another class, or a student', async () => {
    const other = await handedIn(running);
    const nonsense = { body: '{"changes": [', headers: { 'content-type': 'application/json' } };
    // Parsed, it would be a 400.
    const copy = `/api/piles/${h.assignmentId}/terms`;
    expect((await other.teacherCaller.raw('POST', copy, nonsense)).status).toBe(404);
    expect((await h.student.raw('POST', copy, nonsense)).status).toBe(403);
    expect((await h.teacherCaller.raw('POST', copy, nonsense)).status).toBe(400);
  });
});

describe('a body', () => {
  const send = (to: string, body: string) =>
    h.teacherCaller.raw('POST', to, { body, headers: { 'content-type': 'application/json' } });
  const codeOf = async (reply: Response) =>
    ((await reply.json()) as { error: { code: string; facts: object } }).error;

  test('has 16 kB where its route says nothing else', async () => {
    expect(routes.addClass.limit).toBe(16 * 1024);
    const reply = await send('/api/classes', JSON.stringify({ name: 'x', unit: 'y'.repeat(20_000) }));
    expect([reply.status, await codeOf(reply)]).toEqual([
      400,
      { code: 'bad-input', facts: { what: 'size' } },
    ]);
    expect(
      (
        await new Caller(running.address).raw('POST', '/api/sign-in', {
          body: JSON.stringify({ login: 'x', password: 'y'.repeat(20_000) }),
          headers: { 'content-type': 'application/json' },
        })
      ).status,
    ).toBe(400);
  });

  test('that is nested thousands of levels deep is not parsed', async () => {
    const deep = `{"changes":${'['.repeat(100_000)}${']'.repeat(100_000)}}`;
    const reply = await send(path(h.handInId), deep);
    expect(await codeOf(reply)).toMatchObject({ code: 'bad-input', facts: { why: 'nested too deeply' } });
    // Brackets in words are words.
    const fine = put(note(h.documentId, '[{"'.repeat(500)));
    expect((await send(path(h.handInId), JSON.stringify({ changes: [fine] }))).status).toBe(200);
  });

  test('of two hundred bad strokes is refused at the first of them, and one of too many changes at their number', async () => {
    const bad = {
      ...put({ ...note(h.documentId, ''), kind: 'ink', points: Array(3000).fill('x'), width: 2 } as never),
    };
    const reply = await send(path(h.handInId), JSON.stringify({ changes: Array(30).fill(bad) }));
    expect(await codeOf(reply)).toMatchObject({
      code: 'bad-input',
      facts: { what: 'changes.0.mark.points' },
    });
    // Of more parts than anything of ours has, it is not even asked what they are.
    const all = await send(path(h.handInId), JSON.stringify({ changes: Array(100).fill(bad) }));
    expect(await codeOf(all)).toMatchObject({ code: 'bad-input', facts: { why: 'too many parts' } });
    const lists = `{"changes":[${'[],'.repeat(80_000)}0]}`;
    expect(await codeOf(await send(path(h.handInId), lists))).toMatchObject({
      facts: { why: 'too many parts' },
    });
    const many = await send(path(h.handInId), JSON.stringify({ changes: Array(5000).fill(0) }));
    expect(await codeOf(many)).toMatchObject({ facts: { what: 'changes', why: 'a list of 1 to 200' } });
  });

  test('from a page whose origin is nobody’s is refused, not an error', async () => {
    const reply = await h.teacherCaller.raw('POST', '/api/sign-out', { headers: { origin: 'null' } });
    expect(reply.status).toBe(403);
  });
});
