import type { JobId, jobRoutes, Ordered } from '@jotmark/core';
import { sendFile } from '../blobs/send.ts';
import { stopJob } from '../jobs/queue.ts';
import { SHEET_TYPES } from '../sheets/sheet-file.ts';
import { jobFile, jobState, orderedState, tryAgain } from '../tasks/job-state.ts';
import type { HandlersOf, Parts } from './handler.ts';

/** Answers who has ordered something: whoever works on jobs is woken, and how far it is can be asked from now on. */
export async function orderedBy({ house, nudge }: Parts, order: Promise<JobId>): Promise<Ordered> {
  const jobId = await order;
  nudge();
  return orderedState(house, jobId);
}

const TYPES: Readonly<Record<string, string>> = {
  ...SHEET_TYPES,
  pdf: 'application/pdf',
  zip: 'application/zip',
};

/** Whatever takes longer than an answer may. */
export function jobHandlers({ house, nudge }: Parts): HandlersOf<typeof jobRoutes> {
  return {
    job: ({ params }) => jobState(house, params.jobId),
    jobAgain: async ({ params }) => {
      const state = await tryAgain(house, params.jobId);
      nudge();
      return state;
    },
    jobStop: async ({ params }) => {
      await stopJob(house.db.manager, params.jobId);
      return jobState(house, params.jobId);
    },
    jobFile: async ({ person, params, req, res }) => {
      const { sha256, name } = await jobFile(house, person, params.jobId);
      const type = TYPES[name.split('.').at(-1) ?? ''] ?? 'application/octet-stream';
      await sendFile(house, req, res, { sha256, type, download: name });
      return undefined;
    },
  };
}
