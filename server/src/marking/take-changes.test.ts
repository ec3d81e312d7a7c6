import { once } from 'node:events';
import type { Change, ChangeId, DocumentId, Mark, NoteMark } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, testServer } from '../testing/house.ts';
import { done, grade, id, note, put } from '../testing/marks.ts';
import { ownServer } from '../testing/own-server.ts';

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
    const takenAway: Change = { id: id<ChangeId>(), base: first.id, type: 'remove', of: mark.id, was: mark };
    expect(outcomes(await h.send(takenAway))).toEqual(['conflict']);
  });

  test('a chain on one mark in one batch is taken in order', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'a') as NoteMark;
    const a = put(mark);
    const b = put({ ...mark, words: 'b' }, mark, a.id);
    const c: Change = {
      id: id<ChangeId>(),
      base: b.id,
      type: 'remove',
      of: mark.id,
      was: { ...mark, words: 'b' },
    };
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

  test('the longest stroke is taken, one point more is not', async () => {
    const h = await handedIn(running);
    const stroke = (points: number) =>
      put(
        note(h.documentId, '', {
          kind: 'ink',
          points: Array.from({ length: points * 3 }, (_, i) => (i % 3 === 2 ? 128 : 1000 + i)).map(
            (v) => v % 80_000,
          ),
          width: 1.6,
        } as Partial<Mark>),
      );
    const send = (change: Change) =>
      h.teacherCaller.call('sendChanges', { params: { handInId: h.handInId }, body: { changes: [change] } });
    expect((await send(stroke(50_000))).body.results[0].outcome).toBe('applied');
    expect((await send(stroke(50_001))).status).toBe(400);
    // Marks of no size, and beside their page, harm nobody: they are kept, listed and can be undone.
    const odd = [
      { kind: 'ink', points: [5000, 5000, 0], width: 0.2 },
      { kind: 'line', from: [50, 50], to: [50, 50], width: 2 },
      { kind: 'box', box: [90, 90, 90, 90], width: 1 },
      { kind: 'ring', box: [-900, -900, -880, -880], width: 1 },
    ].map((over) => put(note(h.documentId, '', over as Partial<Mark>)));
    expect(outcomes(await h.send(...odd))).toEqual(['applied', 'applied', 'applied', 'applied']);
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
      'SELECT x.seq FROM marking_change x JOIN marking m ON m.id = x.marking_id WHERE m.hand_in_id = ? ORDER BY x.seq',
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
  const start = (port: number) => ownServer(running, { port, workers: 0 }).then((s) => s.child);

  test('at random during six hundred changes: what it acknowledged is kept, and what is sent again counts once', async () => {
    const h = await handedIn(running);
    const port = 20_000 + (process.pid % 20_000);
    const chance = mulberry(2026);
    let child = await start(port);
    let teacher = await new Caller(`http://127.0.0.1:${port}`).signIn(h.teacher.login);
    const acknowledged: Change[] = [];
    const all: Change[] = [];
    let killed = 0;
    try {
      while (all.length < 600) {
        // Batches as a desk sends them; some put, some take away what a batch before put.
        const batch = Array.from({ length: 1 + Math.floor(chance() * 6) }, (_, i): Change => {
          const before = all[Math.floor(chance() * all.length)];
          const again = before?.type === 'put' && chance() < 0.2 && !all.some((c) => c.base === before.id);
          return again
            ? { id: id<ChangeId>(), base: before.id, type: 'remove', of: before.mark.id, was: before.mark }
            : put(note(h.documentId, `${all.length}, ${i}`));
        }).filter(
          (c, i, them) =>
            them.findIndex((o) => o.base !== null && o.base === c.base) === i || c.base === null,
        );
        all.push(...batch);
        const sending = teacher.call('sendChanges', {
          params: { handInId: h.handInId },
          body: { changes: batch },
        });
        const kill = chance() < 0.03 && setTimeout(() => child.kill('SIGKILL'), chance() * 12);
        try {
          const { body } = await sending;
          batch.forEach((change, i) => body.results[i].outcome === 'applied' && acknowledged.push(change));
        } catch {
          // The answer never came; whether it was kept only the server knows.
        }
        if (!kill) continue;
        clearTimeout(kill);
        if (child.exitCode === null && child.signalCode === null) {
          child.kill('SIGKILL');
          await once(child, 'exit');
        }
        killed++;
        child = await start(port);
        teacher = await new Caller(`http://127.0.0.1:${port}`).signIn(h.teacher.login);
      }
    } finally {
      child.kill('SIGKILL');
    }
    expect(killed).toBeGreaterThan(2);
    expect(acknowledged.length).toBeGreaterThan(530);
    const kept = async (): Promise<string[]> => {
      const out: string[] = [];
      for (let after = 0; ; ) {
        const { body } = await h.teacherCaller.call('changesSince', {
          params: { handInId: h.handInId },
          query: `?after=${after}`,
        });
        if (body.changes.length === 0) return out;
        out.push(...body.changes.map((c: Change) => c.id));
        after = body.seq;
      }
    };
    const before = new Set(await kept());
    expect(acknowledged.filter((change) => !before.has(change.id))).toEqual([]);
    for (let at = 0; at < all.length; at += 200) await h.send(...all.slice(at, at + 200));
    const after = await kept();
    expect(new Set(after)).toEqual(new Set(all.map((c) => c.id)));
    expect(after).toHaveLength(all.length);
  });
});

/** Even chance from a seed (mulberry32), so that a failure can be seen again. */
function mulberry(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}
