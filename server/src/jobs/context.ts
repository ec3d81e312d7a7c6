import type { House } from '../house.ts';
import type { Budget } from '../programs/failed.ts';
import type { ClaimedJob } from './queue.ts';

/** What a job is given to work with. */
export interface JobContext {
  readonly house: House;
  readonly job: ClaimedJob;
  /** A folder of the job's own, gone when it ends. */
  readonly folder: string;
  /** What opening one file may cost in this lane. */
  readonly budget: Budget;
  /** Throws ClaimLost where the job was stopped or is worked on by somebody else: then all that follows is in vain. */
  progress(done: number, total: number): void;
}

/**
 * What a kind of job does. It stores its result and calls the job finished in one transaction, so that what somebody else has done meanwhile stands
 * and this is undone.
 */
export type Work = (context: JobContext) => Promise<void>;

/** Something it needs is not there yet: the job is asked again in a moment. */
export class NotYet extends Error {
  /** In ms; left out: as soon as anything is looked at again. */
  readonly wait: number | null;
  constructor(message: string, wait: number | null = null) {
    super(message);
    this.wait = wait;
  }
}
