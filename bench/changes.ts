import { Agent, request } from 'node:http';
import type { Change, ChangeId } from '@jotmark/core';
import type { Running } from '@jotmark/server';
import { type Figure, inTurn, timed } from './figures.ts';
import { ownProcess } from './own-process.ts';
import { benchClass, id, PASSWORD, stroke } from './school.ts';

/** Acknowledging a batch of one pen stroke over HTTP, against the same insert sent bare to MariaDB with a commit. */
export async function changeFigures(running: Running): Promise<Figure[]> {
  const { login, copies } = await benchClass(running, 1, 0);
  const { handInId, documentId } = copies[0]!;
  const { address, stop } = await ownProcess(running);
  const signIn = await fetch(`${address}/api/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password: PASSWORD }),
  });
  const cookie = signIn.headers.get('set-cookie')!.split(';')[0]!;
  const { token } = (await signIn.json()) as { token: string };
  const agent = new Agent({ keepAlive: true });
  let n = 0;
  const next = (): Change => ({
    id: id<ChangeId>(),
    base: null,
    type: 'put',
    was: null,
    mark: stroke(documentId, n++ % 400),
  });
  const ours = async () => {
    const body = JSON.stringify({ changes: [next()] });
    return timed(async () => {
      const reply = await post(agent, `${address}/api/hand-ins/${handInId}/changes`, body, {
        cookie,
        'x-jotmark-token': token,
      });
      if (reply.results[0]!.outcome !== 'applied') throw new Error('not applied');
    });
  };
  const { db } = running.house;
  await db.query(
    `CREATE TABLE bench_change (hand_in_id CHAR(36) NOT NULL, seq INT NOT NULL, change_id CHAR(36) NOT NULL, at DATETIME(3) NOT NULL, value LONGTEXT NOT NULL,
     PRIMARY KEY (hand_in_id, seq), UNIQUE KEY (hand_in_id, change_id)) ENGINE=InnoDB`,
  );
  const bare = async () => {
    const change = next();
    const values = [handInId, n, change.id, new Date(), JSON.stringify(change)];
    return timed(() =>
      db.transaction((tx) =>
        tx.query(
          'INSERT INTO bench_change (hand_in_id, seq, change_id, at, value) VALUES (?, ?, ?, ?, ?)',
          values,
        ),
      ),
    );
  };
  for (let i = 0; i < 30; i++) {
    await ours();
    await bare();
  }
  const [a, b, ratio] = await inTurn(300, ours, bare);
  await db.query('DROP TABLE bench_change');
  agent.destroy();
  await stop();
  return [
    {
      what: 'acknowledging a change batch',
      ours: a,
      baseline: b,
      ratio,
      against: 'bare insert with commit',
      limit: 3,
    },
  ];
}

/** One request on a connection that stays open, as a browser's does. */
function post(
  agent: Agent,
  address: string,
  body: string,
  headers: Record<string, string>,
): Promise<{ results: { outcome: string }[] }> {
  return new Promise((resolve, reject) => {
    const asked = request(
      address,
      {
        method: 'POST',
        agent,
        headers: {
          ...headers,
          'content-type': 'application/json',
          'content-length': Buffer.byteLength(body),
        },
      },
      (reply) => {
        let text = '';
        reply.setEncoding('utf8').on('data', (part) => {
          text += part;
        });
        reply.on('end', () => resolve(JSON.parse(text)));
      },
    );
    asked.on('error', reject);
    asked.end(body);
  });
}
