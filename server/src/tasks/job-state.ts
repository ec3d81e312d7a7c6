import {
  BroughtInAny,
  ErrorCode,
  type HandBackId,
  type JobId,
  type JobOutcome,
  type JobState,
  type Ordered,
  type Person,
} from '@jotmark/core';
import { HandBackPdfTable, JobFileTable, type JobRow, JobTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { documentState } from '../document/state.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { progressOfJob } from '../jobs/progress.ts';
import { aheadOf, retryJob } from '../jobs/queue.ts';
import { Arrived } from './arrive.ts';
import { pdfFor } from './hand-back-pdf.ts';

/** How far something that was ordered is, and what came of it. */
export async function jobState(house: House, jobId: JobId): Promise<JobState> {
  const db = house.db.manager;
  const job = await find(db, JobTable, { id: jobId });
  if (!job) throw new Fault('not-found');
  const ahead = job.state === 'queued' && !job.slow ? await aheadOf(house, jobId) : null;
  const code = ErrorCode.safeParse(job.error);
  return {
    jobId,
    progress: progressOfJob(job, ahead),
    outcome: job.state === 'done' ? await outcomeOf(db, job) : null,
    refused:
      job.state === 'failed' && code.success && code.data !== 'unexpected'
        ? { code: code.data, facts: job.facts ?? {} }
        : null,
  };
}

/** The same as an answer to who has just ordered it. */
export async function orderedState(house: House, jobId: JobId): Promise<Ordered> {
  const { progress } = await jobState(house, jobId);
  return { jobId, progress };
}

async function outcomeOf(db: Db, job: JobRow): Promise<JobOutcome | null> {
  switch (job.kind) {
    case 'arrive': {
      const arrived = Arrived.parse(job.result);
      if ('worksheetId' in arrived)
        return { of: 'worksheet', id: arrived.worksheetId, documentId: arrived.documentId };
      return { of: 'document', document: await documentState(db, arrived.documentId) };
    }
    case 'bring-in':
      return { of: 'marks', brought: BroughtInAny.parse(job.result) };
    case 'marked-pdf':
    case 'zip-originals':
    case 'out':
    case 'hand-back-pdf': {
      const file = await fileOf(db, null, job);
      return file && { of: 'file', name: file.name };
    }
    case 'read-document':
    case 'plain-voice':
    case 'hand-back':
    case 'compact-text':
    case 'mail':
      return null;
  }
}

/** The file that a job has made. */
export async function jobFile(
  house: House,
  person: Person,
  jobId: JobId,
): Promise<{ name: string; sha256: string }> {
  const db = house.db.manager;
  const job = await find(db, JobTable, { id: jobId });
  const file = job?.state === 'done' ? await fileOf(db, person, job) : null;
  if (!file) throw new Fault('not-found');
  return file;
}

/** `person` null: only its name is told. */
async function fileOf(
  db: Db,
  person: Person | null,
  job: JobRow,
): Promise<{ name: string; sha256: string } | null> {
  if (job.kind === 'hand-back-pdf') {
    const handBackId = job.subject as HandBackId;
    return person ? pdfFor(db, person, handBackId) : find(db, HandBackPdfTable, { handBackId, graded: true });
  }
  if (job.kind !== 'marked-pdf' && job.kind !== 'zip-originals' && job.kind !== 'out') return null;
  return find(db, JobFileTable, { jobId: job.id });
}

/** Tries a failed job again. What was refused for good stays so: its file is not kept. */
export async function tryAgain(house: House, jobId: JobId): Promise<JobState> {
  const state = await jobState(house, jobId);
  if (!state.refused) await retryJob(house.db.manager, jobId);
  return jobState(house, jobId);
}
