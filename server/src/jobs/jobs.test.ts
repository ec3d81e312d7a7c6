import type { JobId, PersonId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { JobTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { find } from '../database/write.ts';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { testServer } from '../testing/house.ts';
import {
  aheadOf,
  CLAIM_MS,
  type ClaimedJob,
  ClaimLost,
  claimJob,
  failJob,
  finishJob,
  MAX_ATTEMPTS,
  orderJob,
  postponeJob,
  renewClaim,
  retryJob,
  slowDownJob,
  sweepJobs,
  waitJob,
} from './queue.ts';
import { inTurns, LONGEST_WAIT_MS, type Waiting } from './turns.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 0 }, { now: () => clock });
});
afterAll(() => running.stop());

const order = (more: Partial<Parameters<typeof orderJob>[2]> = {}) =>
  orderJob(running.house, running.house.db.manager, {
    kind: 'read-document',
    subject: newId<string>(running.house),
    personId: null,
    ...more,
  });
const state = async (id: JobId) => (await find(running.house.db.manager, JobTable, { id }))!;
const claim = async (slow = false): Promise<ClaimedJob> => (await claimJob(running.house, slow))!;
const finish = (job: ClaimedJob) => inTransaction(running.house.db, (tx) => finishJob(tx, job));

describe('the job table', () => {
  test('gives each job to one worker, the oldest first, however many ask', async () => {
    const first = await order();
    clock += 5;
    const second = await order();
    const claims = await Promise.all([
      claimJob(running.house),
      claimJob(running.house),
      claimJob(running.house),
    ]);
    const got = claims.flatMap((j) => j ?? []);
    expect(got.map((j) => j.id).sort()).toEqual([first, second].sort());
    for (const job of got) await finish(job);
  });

  test('ordered twice is one job', async () => {
    const subject = newId<string>(running.house);
    const first = await order({ kind: 'hand-back-pdf', subject });
    expect(await order({ kind: 'hand-back-pdf', subject })).toBe(first);
    await finish(await claim());
  });

  test('whose worker died is claimed again when its time is over, not before; the one that comes back late changes nothing', async () => {
    const id = await order();
    const late = await claim();
    expect(await renewClaim(running.house, late, 3, 10)).toBe(true);
    expect(await claimJob(running.house)).toBeNull();
    clock += CLAIM_MS + 1;
    const job = await claim();
    expect(job.id).toBe(id);
    expect(await state(id)).toMatchObject({ attempts: 2, done: 3, total: 10 });
    // Fenced: neither its progress, nor its end, nor its failure counts any more.
    expect(await renewClaim(running.house, late, 9, 10)).toBe(false);
    await expect(finish(late)).rejects.toBeInstanceOf(ClaimLost);
    await expect(failJob(running.house.db.manager, late, 'broken')).rejects.toBeInstanceOf(ClaimLost);
    await expect(postponeJob(running.house, late, 'broken')).rejects.toBeInstanceOf(ClaimLost);
    expect(await state(id)).toMatchObject({ state: 'running', done: 3 });
    await finish(job);
    expect(await state(id)).toMatchObject({ state: 'done', claim: null });
  });

  test('is tried again after a pause that grows, then fails, until somebody asks again', async () => {
    const id = await order();
    for (let i = 1; i <= MAX_ATTEMPTS; i++) {
      const job = await claim();
      await renewClaim(running.house, job, i, 10);
      await postponeJob(running.house, job, 'unexpected');
      if (i < MAX_ATTEMPTS) {
        expect(await claimJob(running.house)).toBeNull();
        clock += 500 * 4 ** (i - 1);
      }
    }
    expect(await state(id)).toMatchObject({ state: 'failed', error: 'unexpected' });
    await retryJob(running.house.db.manager, id);
    expect(await state(id)).toMatchObject({ state: 'queued', attempts: 0, done: 0, total: 0, error: null });
    await finish(await claim());
    await retryJob(running.house.db.manager, id);
    expect((await state(id)).state).toBe('done');
  });

  test('that will fail again is failed at once, with what its sentence needs', async () => {
    const id = await order();
    await failJob(running.house.db.manager, await claim(), 'file-damaged', { name: 'map.pdf' });
    expect(await state(id)).toMatchObject({ state: 'failed', attempts: 1, facts: { name: 'map.pdf' } });
  });

  test('that waits for something else is no failure; one that takes long goes where nobody waits behind it', async () => {
    const id = await order();
    await waitJob(running.house, await claim(), 400);
    expect(await state(id)).toMatchObject({ state: 'queued', attempts: 0 });
    clock += 401;
    await slowDownJob(running.house, await claim());
    expect(await claimJob(running.house)).toBeNull();
    const job = await claim(true);
    expect(job.id).toBe(id);
    await finish(job);
  });

  test('says how many are before one that waits', async () => {
    const [ada, ben] = [newId<PersonId>(running.house), newId<PersonId>(running.house)];
    const ids: JobId[] = [];
    for (const personId of [ada, ada, ada, ben]) {
      clock += 1;
      ids.push(await order({ personId }));
    }
    // Ben has come last, and it is his turn after Ada's first.
    expect(await Promise.all(ids.map((id) => aheadOf(running.house, id)))).toEqual([0, 2, 3, 1]);
    for (const _ of ids) await finish(await claim());
    expect(await aheadOf(running.house, ids[0]!)).toBeNull();
  });

  test('forgets what was ordered and done long ago, and nothing that is kept otherwise', async () => {
    const zip = await order({ kind: 'zip-originals', subject: null });
    await finish(await claim());
    const reading = await order();
    await finish(await claim());
    await sweepJobs(running.house.db.manager, clock + 1);
    expect(await find(running.house.db.manager, JobTable, { id: zip })).toBeNull();
    expect((await state(reading)).state).toBe('done');
  });

  test('a copy can be handed in and is in the pile while nobody has read its pages yet', async () => {
    const h = await handedIn(await withWorker());
    const { body } = await h.teacherCaller.call('pile', { params: { assignmentId: h.assignmentId } });
    expect(body.rows[0]).toMatchObject({ place: 'in', documents: 1 });
  });
});

let other: Running | null = null;
async function withWorker(): Promise<Running> {
  other = await testServer({ workers: 1 });
  return other;
}
afterAll(() => other?.stop());

describe('taking turns', () => {
  const job = (id: string, more: Partial<Waiting> = {}): Waiting => ({
    id,
    personId: 'ada',
    size: 1000,
    awaited: true,
    createdAt: Number(id.slice(1)),
    ...more,
  });
  const ids = (jobs: readonly Waiting[], atWork = new Map<string, number>(), now = 1000) =>
    inTurns(jobs, atWork, now).map((j) => j.id);

  test('everybody’s first comes before anybody’s second', () => {
    const jobs = [
      job('a1'),
      job('a2'),
      job('a3'),
      job('b4', { personId: 'ben' }),
      job('b5', { personId: 'ben' }),
    ];
    expect(ids(jobs)).toEqual(['a1', 'b4', 'a2', 'b5', 'a3']);
  });

  test('who has one at work already has had that turn', () => {
    const jobs = [job('a1'), job('b2', { personId: 'ben' })];
    expect(ids(jobs, new Map([['ada', 1]]))).toEqual(['b2', 'a1']);
  });

  test('within a turn what somebody waits for comes first, then small, then old; sizes that are alike count as equal', () => {
    const jobs = [
      job('a1', { personId: 'a', awaited: false }),
      job('b2', { personId: 'b', size: 40_000_000 }),
      job('c3', { personId: 'c', size: 1100 }),
      job('d4', { personId: 'd', size: 1050 }),
    ];
    expect(ids(jobs)).toEqual(['c3', 'd4', 'b2', 'a1']);
  });

  test('nothing waits for ever: what has waited too long comes first', () => {
    const jobs = [job('a5', { size: 1e9, awaited: false }), job('b6', { personId: 'ben' })];
    expect(ids(jobs)).toEqual(['b6', 'a5']);
    expect(ids(jobs, new Map(), LONGEST_WAIT_MS + 6)).toEqual(['a5', 'b6']);
  });
});
