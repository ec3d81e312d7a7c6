import { randomUUID } from 'node:crypto';
import type { JobId, PersonId, Progress } from '@jotmark/core';
import { Brackets, type EntityManager, In } from 'typeorm';
import { JobFileTable, type JobKind, type JobRow, JobTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { find, insert, insertNew, update } from '../database/write.ts';
import { type House, newId } from '../house.ts';
import { inTurns } from './turns.ts';

export interface Order {
  readonly kind: JobKind;
  /** What it is about; null: it is about nothing else, and no other order is the same. */
  readonly subject: string | null;
  readonly personId: PersonId | null;
  readonly size?: number;
  /** Somebody looks at a screen until it is done. */
  readonly awaited?: boolean;
  readonly input?: unknown;
  /** It is not begun before. */
  readonly notBefore?: number;
  readonly files?: readonly { readonly name: string; readonly sha256: string }[];
}

/** Orders a job; the same kind and subject given twice are one job. Gives its id. */
export async function orderJob(house: House, db: Db, order: Order): Promise<JobId> {
  const row = rowOf(house, order);
  const made = await insertNew(db, JobTable, row);
  if (made === 0) return (await find(db, JobTable, { kind: order.kind, subject: row.subject }))!.id;
  if (order.files?.length)
    await insert(
      db,
      JobFileTable,
      order.files.map((file, position) => ({ jobId: row.id, position, ...file })),
    );
  return row.id;
}

/** Orders many jobs without files at once. */
export async function orderJobs(
  house: House,
  db: Db,
  orders: readonly Omit<Order, 'files'>[],
): Promise<void> {
  if (orders.length)
    await insertNew(
      db,
      JobTable,
      orders.map((order) => rowOf(house, order)),
    );
}

function rowOf(house: House, order: Order): JobRow {
  const id = newId<JobId>(house);
  return {
    id,
    kind: order.kind,
    subject: order.subject ?? id,
    state: 'queued',
    done: 0,
    total: 0,
    attempts: 0,
    error: null,
    facts: null,
    claim: null,
    claimedUntil: null,
    notBefore: order.notBefore ?? null,
    createdAt: house.now(),
    personId: order.personId,
    size: Math.min(order.size ?? 0, 2 ** 31 - 1),
    awaited: order.awaited ?? false,
    slow: false,
    input: order.input ?? null,
    result: null,
  };
}

/** A failed job is queued again; one that waits, runs or is done is left alone. */
export async function retryJob(db: Db, jobId: JobId): Promise<void> {
  await update(
    db,
    JobTable,
    { id: jobId, state: 'failed' },
    {
      state: 'queued',
      attempts: 0,
      done: 0,
      total: 0,
      error: null,
      facts: null,
      notBefore: null,
      slow: false,
    },
  );
}

/** Whoever ordered it does not want it any more: whoever works on it hears of it when they next say how far they are. Only what makes a file is stopped. */
export async function stopJob(db: Db, jobId: JobId): Promise<void> {
  await db
    .getRepository(JobTable)
    .update(
      { id: jobId, kind: In(FILES), state: In(['queued', 'running'] satisfies Progress['state'][]) },
      { state: 'failed', error: 'stopped', facts: null, claim: null },
    );
}

/** Jobs whose only fruit is a file that somebody fetches. */
const FILES: JobKind[] = ['marked-pdf', 'zip-originals', 'out'];

/** A job as whoever works on it holds it: everything it stores is bound to its claim. */
export interface ClaimedJob extends JobRow {
  readonly claim: string;
}

/** How long a claim holds; a job whose server died is free again after that. */
export const CLAIM_MS = 30_000;
/** A job that is not the file's fault is tried this often. */
export const MAX_ATTEMPTS = 5;
/** Before it is tried again, in milliseconds: longer each time. */
const pauseBefore = (attempt: number): number => 500 * 4 ** (attempt - 1);
/** Among so many waiting ones turns are taken; more wait behind them. */
const MOST_LOOKED_AT = 300;

/** What can be begun now in a lane: it waits and its pause is over, or its worker let go of it. */
function free(db: Db, slow: boolean, now: number) {
  return db
    .createQueryBuilder(JobTable, 'j')
    .where('j.slow = :slow', { slow })
    .andWhere(
      new Brackets((or) =>
        or
          .where(`j.state = 'queued' AND (j.notBefore IS NULL OR j.notBefore <= :now)`)
          .orWhere(`j.state = 'running' AND j.claimedUntil < :now`),
      ),
    )
    .setParameter('now', new Date(now));
}

const WEIGHED = {
  id: col('j.id', as.id<JobId>()),
  personId: col('j.personId', as.maybe(as.id<PersonId>())),
  size: col('j.size', as.int),
  awaited: col('j.awaited', as.flag),
  createdAt: col('j.createdAt', as.moment),
  attempts: col('j.attempts', as.int),
  state: col('j.state', as.text),
} as const;

/** Claims the job whose turn it is, by an update that only one can win; null when nothing waits. */
export async function claimJob(house: House, slow = false): Promise<ClaimedJob | null> {
  const db = house.db.manager;
  const now = house.now();
  const waiting = await pick(free(db, slow, now).orderBy('j.createdAt').limit(MOST_LOOKED_AT), WEIGHED);
  if (waiting.length === 0) return null;
  for (const job of inTurns(waiting, await atWork(db), now).slice(0, 8)) {
    const claim = randomUUID();
    const done = await db
      .createQueryBuilder()
      .update(JobTable)
      .set({ state: 'running', claim, claimedUntil: now + CLAIM_MS, attempts: job.attempts + 1 })
      // Every claim and every end changes one of these: who comes second changes nothing.
      .where('id = :id AND attempts = :attempts AND state = :state', job)
      .andWhere('(state = :queued OR claimed_until < :now)', { queued: 'queued', now: new Date(now) })
      .execute();
    if (done.affected === 1) {
      const row = await find(db, JobTable, { id: job.id });
      if (row?.claim === claim) return row as ClaimedJob;
    }
  }
  return null;
}

async function atWork(db: Db): Promise<Map<PersonId | null, number>> {
  const rows = await pick(
    db.createQueryBuilder(JobTable, 'j').where(`j.state = 'running'`).groupBy('j.personId'),
    { personId: col('j.personId', as.maybe(as.id<PersonId>())), jobs: col('COUNT(*)', as.int) },
  );
  return new Map(rows.map((r) => [r.personId, r.jobs]));
}

/** How many are before a job that waits; null for one that does not. */
export async function aheadOf(house: House, jobId: JobId): Promise<number | null> {
  const db = house.db.manager;
  const now = house.now();
  const waiting = await pick(free(db, false, now).orderBy('j.createdAt').limit(MOST_LOOKED_AT), WEIGHED);
  const place = inTurns(waiting, await atWork(db), now).findIndex((j) => j.id === jobId);
  return place < 0 ? null : place;
}

/** Somebody else has claimed the job meanwhile: nothing of this work counts. */
export class ClaimLost extends Error {}

type Held = Pick<ClaimedJob, 'id' | 'claim'>;

/** Changes a job that is still held by this claim; throws ClaimLost, so that a transaction it is part of is undone. */
async function change(db: Db, job: Held, set: Partial<JobRow>): Promise<void> {
  const changed = await update(db, JobTable, { id: job.id, claim: job.claim, state: 'running' }, set);
  if (changed === 0) throw new ClaimLost(`job ${job.id} is not held any more`);
}

/** Says how far it is. Gives whether the job is still held. */
export async function renewClaim(house: House, job: Held, done: number, total: number): Promise<boolean> {
  const changed = await update(
    house.db.manager,
    JobTable,
    { id: job.id, claim: job.claim, state: 'running' },
    { done, total, claimedUntil: house.now() + CLAIM_MS },
  );
  return changed > 0;
}

export async function finishJob(tx: EntityManager, job: Held, result: unknown = null): Promise<void> {
  await change(tx, job, { state: 'done', result, error: null, facts: null, claim: null });
}

/** It will not get through however often it is tried: why, and what the sentence of that needs. */
export async function failJob(
  db: Db,
  job: Held,
  error: string,
  facts: Record<string, string | number> | null = null,
): Promise<void> {
  await change(db, job, { state: 'failed', error: error.slice(0, 60), facts, claim: null });
}

/** Back into the queue after a pause, or failed when it was tried often enough. */
export async function postponeJob(house: House, job: ClaimedJob, error: string): Promise<void> {
  if (job.attempts >= MAX_ATTEMPTS) return failJob(house.db.manager, job, error);
  await change(house.db.manager, job, {
    state: 'queued',
    error: error.slice(0, 60),
    notBefore: house.now() + pauseBefore(job.attempts),
    claim: null,
  });
}

/** It waits for something that is not there yet: it is asked again in a moment, and that is no failure. */
export async function waitJob(house: House, job: ClaimedJob, ms: number): Promise<void> {
  await change(house.db.manager, job, {
    state: 'queued',
    notBefore: house.now() + ms,
    attempts: job.attempts - 1,
    claim: null,
  });
}

/** Into the slow lane, where nobody waits behind it. That it was looked at does not count as a try. */
export async function slowDownJob(house: House, job: ClaimedJob): Promise<void> {
  await change(house.db.manager, job, {
    state: 'queued',
    slow: true,
    attempts: job.attempts - 1,
    done: 0,
    claim: null,
  });
}

/** Jobs that were done or failed so long ago are forgotten with their files, some hundred at a time; what they made otherwise stays. Gives how many, and the bytes that they named, which may be nobody's now. */
export async function sweepJobs(
  db: Db,
  before: number,
): Promise<{ readonly jobs: number; readonly files: readonly string[] }> {
  const old = await pick(
    db
      .createQueryBuilder(JobTable, 'j')
      .where('j.kind IN (:...kinds) AND j.state IN (:...ended) AND j.createdAt < :before', {
        kinds: ['arrive', 'bring-in', ...FILES] satisfies JobKind[],
        ended: ['done', 'failed'] satisfies Progress['state'][],
        before: new Date(before),
      })
      .limit(200),
    { id: col('j.id', as.id<JobId>()) },
  );
  const ids = old.map((j) => j.id);
  if (ids.length === 0) return { jobs: 0, files: [] };
  const files = await db.getRepository(JobFileTable).find({ where: { jobId: In(ids) } });
  await db.getRepository(JobTable).delete({ id: In(ids) });
  return { jobs: ids.length, files: [...new Set(files.map((f) => f.sha256))] };
}
