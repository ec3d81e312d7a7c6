import { type ChildProcess, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { Change, ChangeId, DocumentId, NoteMark } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, testServer } from '../testing/house.ts';
import { done, grade, id, note, put } from '../testing/marks.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

const outcomes = (answer: { results: { outcome: string; reason: string | null }[] }) =>
  answer.results.map((r) => r.reason ?? r.outcome);

describe('changes to a marking', () => {
  test('sent twice count once and say so', async () => {
    const h = await handedIn(running);
    const changes = [put(note(h.documentId, 'once')), grade(700)];
    expect(outcomes(await h.send(...changes))).toEqual(['applied', 'applied']);
    const again = await h.send(...changes);
    expect(outcomes(again)).toEqual(['already', 'already']);
    expect(again.seq).toBe(2);
    const { body } = await h.teacherCaller.call('changesSince', {
      params: { handInId: h.handInId },
      query: '?after=0',
    });
    expect(body.changes).toEqual(changes);
  });

  test('made on something that no longer stands are a conflict, change nothing, and show what stands', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'first') as NoteMark;
    const first = put(mark);
    await h.send(first);
    const mine = put({ ...mark, words: 'mine' }, mark, first.id);
    const theirs = put({ ...mark, words: 'theirs' }, mark, first.id);
    await h.send(mine);
    const answer = await h.send(theirs);
    expect(outcomes(answer)).toEqual(['conflict']);
    expect(answer.current?.marks).toMatchObject([{ id: mark.id, version: mine.id, mark: { words: 'mine' } }]);
    const takenAway: Change = { id: id<ChangeId>(), base: first.id, type: 'remove', mark };
    expect(outcomes(await h.send(takenAway))).toEqual(['conflict']);
  });

  test('a chain on one mark in one batch is taken in order', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'a') as NoteMark;
    const a = put(mark);
    const b = put({ ...mark, words: 'b' }, mark, a.id);
    const c: Change = { id: id<ChangeId>(), base: b.id, type: 'remove', mark: { ...mark, words: 'b' } };
    expect(outcomes(await h.send(a, b, c))).toEqual(['applied', 'applied', 'applied']);
    const desk = await h.teacherCaller.call('desk', { params: { copyId: h.copyId } });
    expect(desk.body.marking).toMatchObject({ seq: 3, marks: [{ id: mark.id, version: c.id, mark: null }] });
  });

  test('impossible ones are refused one by one, the others are taken', async () => {
    const h = await handedIn(running);
    const answer = await h.send(
      put(note(h.documentId, 'good')),
      grade(1001),
      put(note(h.documentId, 'no page', { page: 7 })),
      put(note(id<DocumentId>(), 'no document')),
      grade(1000),
    );
    expect(outcomes(answer)).toEqual(['applied', 'above-most', 'no-such-page', 'no-such-page', 'applied']);
  });

  test.each([
    ['NaN in a stroke', { kind: 'ink', points: [null, 1, 1], width: 1 }],
    ['a mark miles off the page', { kind: 'ink', points: [99_000_000, 1, 1], width: 1 }],
    ['words without end', { words: 'x'.repeat(4001) }],
    ['another version', { v: 9 }],
  ])('%s is refused at the edge', async (_, over) => {
    const h = await handedIn(running);
    const change = put(note(h.documentId, 'x')) as { mark: object };
    const reply = await h.teacherCaller.call('sendChanges', {
      params: { handInId: h.handInId },
      body: { changes: [{ ...change, mark: { ...change.mark, ...over } }] },
    });
    expect(reply).toMatchObject({ status: 400, body: { error: { code: 'bad-input' } } });
  });

  test('two tabs at once: every change is taken exactly once and numbered without a gap', async () => {
    const h = await handedIn(running);
    const other = await new Caller(running.address).signIn(h.teacher.login);
    const batches = Array.from({ length: 20 }, (_, i) => [
      put(note(h.documentId, `n${i}a`)),
      put(note(h.documentId, `n${i}b`)),
    ]);
    await Promise.all(
      batches.map((changes, i) =>
        (i % 2 ? other : h.teacherCaller).call('sendChanges', {
          params: { handInId: h.handInId },
          body: { changes },
        }),
      ),
    );
    const rows = await running.house.db.query(
      'SELECT seq FROM marking_change WHERE hand_in_id = ? ORDER BY seq',
      [h.handInId],
    );
    expect(rows.map((r: { seq: number }) => r.seq)).toEqual(Array.from({ length: 40 }, (_, i) => i + 1));
  });

  test('the first change makes it being marked, "marked" holds it, and taking that back opens it again', async () => {
    const h = await handedIn(running);
    const place = async () =>
      (await h.teacherCaller.call('pile', { params: { assignmentId: h.assignmentId } })).body.rows.find(
        (r: { copyId: string }) => r.copyId === h.copyId,
      ).place;
    expect(await place()).toBe('in');
    await h.send(put(note(h.documentId, 'x')));
    expect(await place()).toBe('being-marked');
    const yes = done(true);
    await h.send(yes);
    expect(await place()).toBe('marked');
    await h.send(done(false, yes.id));
    expect(await place()).toBe('being-marked');
  });
});

describe('the server killed during a save', () => {
  const main = fileURLToPath(new URL('../main.ts', import.meta.url));

  const start = async (port: number): Promise<ChildProcess> => {
    const child = spawn('node', ['--import', 'tsx', '--conditions=jotmark-source', main], {
      env: {
        ...process.env,
        DATABASE_URL: running.house.settings.databaseUrl,
        PORT: String(port),
        JOTMARK_WORKERS: '0',
        LOG_LEVEL: 'silent',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    await new Promise<void>((resolve, reject) => {
      child.stdout!.on('data', (text) => String(text).includes('serves on') && resolve());
      child.once('exit', (code) => reject(new Error(`ended with ${code}`)));
    });
    return child;
  };

  test('keeps what it acknowledged, and what is sent again counts once', async () => {
    const h = await handedIn(running);
    const port = 20_000 + (process.pid % 20_000);
    let child = await start(port);
    const acknowledged: Change[] = [];
    const all: Change[] = [];
    try {
      for (let round = 0; round < 4; round++) {
        const teacher = await new Caller(`http://127.0.0.1:${port}`).signIn(h.teacher.login);
        // Killed in the middle of a stream of saves, at another point each round.
        let sent = 0;
        const killAt = 5 + round * 7;
        for (;;) {
          const change = put(note(h.documentId, `round ${round}, ${sent}`));
          all.push(change);
          const sending = teacher.call('sendChanges', {
            params: { handInId: h.handInId },
            body: { changes: [change] },
          });
          if (sent++ === killAt) child.kill('SIGKILL');
          try {
            expect((await sending).body.results[0].outcome).toBe('applied');
            acknowledged.push(change);
          } catch {
            break;
          }
        }
        child = await start(port);
      }
    } finally {
      child.kill('SIGKILL');
    }
    const kept = async () =>
      (
        await h.teacherCaller.call('changesSince', { params: { handInId: h.handInId }, query: '?after=0' })
      ).body.changes.map((c: Change) => c.id);
    const before = await kept();
    for (const change of acknowledged) expect(before).toContain(change.id);
    await h.send(...all);
    const after: string[] = await kept();
    expect(new Set(after)).toEqual(new Set(all.map((c) => c.id)));
    expect(after).toHaveLength(all.length);
  });
});
