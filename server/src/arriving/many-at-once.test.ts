import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { JobTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { newId } from '../house.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob, orderJob } from '../jobs/queue.ts';
import { JobRunner } from '../jobs/runner.ts';
import { Failed, FULL } from '../programs/failed.ts';
import type { Running } from '../serve.ts';
import { Caller, readingDone, smallClass, testServer } from '../testing/house.ts';
import { plainPdf } from '../testing/pdfs.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 2 });
});
afterAll(() => running.stop());

async function thirty() {
  const names = Array.from({ length: 30 }, (_, i) => `p${i}`);
  const s = await smallClass(running, names);
  const callers = await Promise.all(s.students.map((p) => new Caller(running.address).signIn(p.login)));
  const files = await Promise.all(names.map((n) => plainPdf([`The way of ${n}`], 2)));
  return { s, callers, files };
}

describe('thirty students at once', () => {
  test('are all taken, see their place, and all their pages are read', async () => {
    const { s, callers, files } = await thirty();
    const places: number[] = [];
    const laid = await Promise.all(
      callers.map(async (ada, n) => {
        const form = new FormData();
        form.append('file', new Blob([files[n] as Uint8Array<ArrayBuffer>]), `work ${n}.pdf`);
        const sent = await ada.raw('POST', `/api/work/${s.copyOf(n)}/files`, { body: form });
        const { jobId, progress } = (await sent.json()) as {
          jobId: string;
          progress: { ahead: number | null };
        };
        if (progress.ahead !== null) places.push(progress.ahead);
        return ada.outcome(jobId);
      }),
    );
    expect(laid.map((l) => l.status)).toEqual(Array(30).fill(200));
    expect(Math.max(...places)).toBeGreaterThan(3);
    for (const [n, ada] of callers.entries()) expect((await ada.handIn(s.copyOf(n))).status).toBe(200);
    expect(await Promise.all(callers.map((ada, n) => readingDone(ada, laid[n]!.body.id)))).toEqual(
      Array(30).fill('done'),
    );
  }, 120_000);

  test('lose nothing while the processes that open files are killed', async () => {
    const { s, callers, files } = await thirty();
    let killed = 0;
    let last = 0;
    // Looked for so often that some are seen at work however fast the machine is; with a pause, so that it is not always the same file.
    const killer = setInterval(() => {
      for (const child of running.opener.busy)
        if (killed < 8 && Date.now() - last > 60) {
          killed++;
          last = Date.now();
          child.kill('SIGKILL');
        }
    }, 4);
    try {
      const laid = await Promise.all(
        callers.slice(0, 12).map((ada, n) => ada.upload(s.copyOf(n), files[n]!, `work ${n}.pdf`)),
      );
      expect(laid.map((l) => l.status)).toEqual(Array(12).fill(200));
      clearInterval(killer);
      for (const [n, ada] of callers.slice(0, 12).entries())
        expect(await readingDone(ada, laid[n]!.body.id)).toBe('done');
      expect(killed).toBeGreaterThan(3);
    } finally {
      clearInterval(killer);
    }
  }, 120_000);
});

test('a file that takes for ever goes where nobody waits behind it, and ends there', async () => {
  const own = await testServer({ workers: 0 });
  const { house } = own;
  const ended: string[] = [];
  const lanes: [string, string][] = [];
  const work: Work = async ({ job, budget }) => {
    const slow = (job.input as { slow: boolean }).slow;
    lanes.push([job.subject, budget.cpuMs < FULL.cpuMs ? 'quick' : 'slow']);
    if (slow) {
      await new Promise((r) => setTimeout(r, budget.cpuMs < FULL.cpuMs ? 50 : 1500));
      ended.push('stuck');
      throw new Failed('too-slow', 'for ever');
    }
    await inTransaction(house.db, (tx) => finishJob(tx, job));
    ended.push('fine');
  };
  const order = (slow: boolean) =>
    orderJob(house, house.db.manager, {
      kind: 'read-document',
      subject: newId<string>(house),
      personId: null,
      input: { slow },
    });
  const stuck = [await order(true), await order(true)];
  for (let i = 0; i < 20; i++) await order(false);
  const runner = new JobRunner(house, { 'read-document': work } as never, 1);
  const states = async () => {
    const rows = await house.db.getRepository(JobTable).find();
    return (state: string) => rows.filter((r) => r.state === state).length;
  };
  await expect.poll(async () => (await states())('done'), { timeout: 10_000 }).toBe(20);
  // The twenty others are done while the first of the stuck ones has not come to its end.
  expect(ended.filter((e) => e === 'stuck').length).toBeLessThan(4);
  await expect.poll(async () => (await states())('failed'), { timeout: 10_000 }).toBe(2);
  expect(lanes.filter(([subject]) => stuck.length && subject).some(([, lane]) => lane === 'slow')).toBe(true);
  await runner.stop();
  await own.stop();
}, 60_000);
