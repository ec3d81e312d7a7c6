import { Progress } from '@jotmark/core';
import type { JobRow } from '../database/entities/index.ts';
import { as, col } from '../database/pick.ts';

/** Columns for a left join on the job table named `j`, see `progressOf`. */
export const PROGRESS = {
  jobState: col('j.state', as.maybe(as.oneOf(Progress.shape.state.options))),
  jobDone: col('j.done', as.maybe(as.int)),
  jobTotal: col('j.total', as.maybe(as.int)),
  jobError: col('j.error', as.maybe(as.text)),
} as const;

export interface ProgressColumns {
  readonly jobState: Progress['state'] | null;
  readonly jobDone: number | null;
  readonly jobTotal: number | null;
  readonly jobError: string | null;
}

/** How far a joined job is; one that is not there any more has failed. */
export function progressOf(row: ProgressColumns): Progress {
  return {
    state: row.jobState ?? 'failed',
    done: row.jobDone ?? 0,
    total: row.jobTotal ?? 0,
    error: row.jobError,
    ahead: null,
  };
}

export const progressOfJob = (job: JobRow, ahead: number | null = null): Progress => ({
  state: job.state,
  done: job.done,
  total: job.total,
  error: job.error,
  ahead,
});
