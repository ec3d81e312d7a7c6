import type { ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Running, serve } from '../serve.ts';
import { handedIn } from './handed-in.ts';
import { Caller, smallClass, testSettings } from './house.ts';
import { note, put } from './marks.ts';
import { ownServer } from './own-server.ts';

/** One node of a cluster, see `scripts/galera.mjs`. */
interface Node {
  readonly url: string;
  size(): number;
  kill(): Promise<void>;
}

let nodes: Node[];
/** A server on each node: the first here, the others in processes of their own. */
let first: Running;
let others: { readonly child: ChildProcess; readonly address: string }[];
let addresses: string[];

beforeAll(async () => {
  const { startNodes } = (await import(new URL('../../../scripts/galera.mjs', import.meta.url).href)) as {
    startNodes(dir: string): Promise<Node[]>;
  };
  nodes = await startNodes(join(tmpdir(), `jotmark-galera-${randomUUID().slice(0, 8)}`));
  first = await serve(testSettings(nodes[0]!.url));
  others = [];
  for (const node of nodes.slice(1))
    others.push(await ownServer(first, { workers: 0, databaseUrl: node.url }));
  addresses = [first.address, ...others.map((o) => o.address)];
}, 240_000);
afterAll(async () => {
  for (const { child } of others ?? []) child.kill('SIGKILL');
  await first?.stop();
  for (const node of nodes ?? []) await node.kill();
});

describe('three database nodes, a server on each', () => {
  test('sign-ins of one person on all of them at the same moment all succeed, and none counts as a wrong password', async () => {
    const { teacher } = await smallClass(first);
    for (let round = 0; round < 4; round++) {
      const callers = addresses.flatMap((a) => [new Caller(a), new Caller(a)]);
      await Promise.all(callers.map((c) => c.signIn(teacher.login)));
    }
    const counted: { hits: number }[] = await first.house.db.query(
      'SELECT hits FROM attempt WHERE name LIKE ?',
      [`%${teacher.login}%`],
    );
    expect(counted.every((c) => c.hits === 0)).toBe(true);
  });

  test('taking back and marking at the same moment on different nodes: one comes first, the other is told', async () => {
    for (let round = 0; round < 6; round++) {
      const s = await handedIn(first);
      const student = await new Caller(addresses[1]!).signIn(s.students[0]!.login);
      const teacher = await new Caller(addresses[2]!).signIn(s.teacher.login);
      const [back, marked] = await Promise.all([
        student.call('takeBack', { params: { copyId: s.copyId } }),
        teacher.call('sendChanges', {
          params: { handInId: s.handInId },
          body: { changes: [put(note(s.documentId, 'Look again'))] },
        }),
      ]);
      expect([back.status, marked.status].sort()).toEqual([200, 409]);
    }
  });

  test('a node is killed with its server while all three save: nothing that was acknowledged is missing', async () => {
    const s = await handedIn(first);
    const callers = await Promise.all(addresses.map((a) => new Caller(a).signIn(s.teacher.login)));
    const kept: string[] = [];
    let stopped = false;
    const saving = callers.map(async (caller) => {
      while (!stopped) {
        const change = put(note(s.documentId, `a word ${kept.length}`));
        const reply = await caller
          .call('sendChanges', { params: { handInId: s.handInId }, body: { changes: [change] } })
          .catch(() => null);
        if (reply?.status === 200 && reply.body.results[0].outcome === 'applied') kept.push(change.id);
        // One whose server is gone stays silent.
        if (reply === null) return;
      }
    });
    await new Promise((r) => setTimeout(r, 1500));
    others[1]!.child.kill('SIGKILL');
    await nodes[2]!.kill();
    const atKill = kept.length;
    await expect.poll(() => kept.length, { timeout: 60_000 }).toBeGreaterThan(atKill + 20);
    stopped = true;
    await Promise.all(saving);
    expect(nodes[0]!.size()).toBe(2);
    // What was taken at another node is certain at once, and to be read here a moment later.
    const missing = async () => {
      const there: { change_id: string }[] = await first.house.db.query(
        'SELECT x.change_id FROM marking_change x JOIN marking m ON m.id = x.marking_id WHERE m.hand_in_id = ?',
        [s.handInId],
      );
      const ids = new Set(there.map((t) => t.change_id));
      return kept.filter((id) => !ids.has(id));
    };
    await expect.poll(missing, { timeout: 20_000 }).toEqual([]);
    expect(kept.length).toBeGreaterThan(30);
  });
});
