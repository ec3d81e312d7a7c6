import type { JobId, Progress } from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import { type House, newId } from '../house.ts';

export type JobKind = 'read-document' | 'hand-back-pdf' | 'zip-originals';

type Db = Pick<EntityManager, 'query'>;

/** Orders a job for a subject; the same order given twice is one job. Gives its id. */
export async function orderJob(house: House, db: Db, kind: JobKind, subject: string): Promise<JobId> {
  await db.query(
    `INSERT IGNORE INTO job (id, kind, subject, state, done, total, attempts, created_at) VALUES (?, ?, ?, 'queued', 0, 0, 0, ?)`,
    [newId(house), kind, subject, new Date(house.now())],
  );
  const [row] = await db.query('SELECT id FROM job WHERE kind = ? AND subject = ?', [kind, subject]);
  return row.id;
}

/** A failed job is queued again; one that waits, runs or is done is left alone. */
export async function retryJob(db: Db, kind: JobKind, subject: string): Promise<void> {
  await db.query(
    `UPDATE job SET state = 'queued', attempts = 0, error = NULL WHERE kind = ? AND subject = ? AND state = 'failed'`,
    [kind, subject],
  );
}

/** Columns that `progressOf` reads, for a join on the job table named `j`. */
export const PROGRESS_COLUMNS =
  'j.state AS job_state, j.done AS job_done, j.total AS job_total, j.error AS job_error';

export interface ProgressColumns {
  readonly job_state: Progress['state'] | null;
  readonly job_done: number | null;
  readonly job_total: number | null;
  readonly job_error: string | null;
}

export function progressOf(row: ProgressColumns): Progress {
  return {
    state: row.job_state ?? 'failed',
    done: row.job_done ?? 0,
    total: row.job_total ?? 0,
    error: row.job_error,
  };
}

export interface ClaimedJob {
  readonly id: JobId;
  readonly kind: JobKind;
  readonly subject: string;
  readonly attempts: number;
}

/** How long a claim holds; a job whose server died is free again after that. */
const CLAIM_MS = 60_000;
export const MAX_ATTEMPTS = 3;

/** Claims the oldest waiting job by a conditional UPDATE, or null. */
export async function claimJob(house: House, who: string): Promise<ClaimedJob | null> {
  const now = new Date(house.now());
  const candidates: { id: JobId; kind: JobKind; subject: string; attempts: number }[] = await house.db.query(
    `SELECT id, kind, subject, attempts FROM job
     WHERE state = 'queued' OR (state = 'running' AND claimed_until < ?) ORDER BY created_at LIMIT 4`,
    [now],
  );
  for (const job of candidates) {
    const done = await house.db.query(
      `UPDATE job SET state = 'running', claimed_by = ?, claimed_until = ?, attempts = attempts + 1
       WHERE id = ? AND attempts = ? AND (state = 'queued' OR (state = 'running' AND claimed_until < ?))`,
      [who, new Date(now.getTime() + CLAIM_MS), job.id, job.attempts, now],
    );
    if (done.affectedRows === 1) return { ...job, attempts: job.attempts + 1 };
  }
  return null;
}

export async function reportProgress(
  house: House,
  job: ClaimedJob,
  done: number,
  total: number,
): Promise<void> {
  await house.db.query('UPDATE job SET done = ?, total = ?, claimed_until = ? WHERE id = ? AND state = ?', [
    done,
    total,
    new Date(house.now() + CLAIM_MS),
    job.id,
    'running',
  ]);
}

export async function finishJob(db: Db, job: ClaimedJob): Promise<void> {
  await db.query(`UPDATE job SET state = 'done', done = total, error = NULL WHERE id = ?`, [job.id]);
}

/** Back into the queue, or failed for good after the last attempt. */
export async function failJob(db: Db, job: ClaimedJob, error: string): Promise<void> {
  const state = job.attempts >= MAX_ATTEMPTS ? 'failed' : 'queued';
  await db.query('UPDATE job SET state = ?, error = ? WHERE id = ?', [state, error.slice(0, 60), job.id]);
}
