import { rm } from 'node:fs/promises';
import { forget } from '../blobs/blob.ts';
import type { JobKind } from '../database/entities/index.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { Failed, FULL, QUICK } from '../programs/failed.ts';
import { ownFolder } from '../programs/own-folder.ts';
import { NotYet, type Work } from './context.ts';
import {
  CLAIM_MS,
  type ClaimedJob,
  ClaimLost,
  claimJob,
  failJob,
  postponeJob,
  renewClaim,
  slowDownJob,
  sweepJobs,
  waitJob,
} from './queue.ts';

/** How long an idle lane waits before it asks the table again; `nudge` wakes it at once. */
const IDLE_MS = 400;
const REPORT_MS = 300;
const KEPT_MS = 24 * 3_600_000;
const SWEEP_MS = 3_600_000;

/**
 * Works through the job table until stopped: in `lanes` side by side what is quick, and in one lane more what turned out to be slow, so that
 * no file keeps the others waiting.
 */
export class JobRunner {
  readonly #house: House;
  readonly #kinds: Readonly<Record<JobKind, Work>>;
  readonly #lanes: Promise<void>[];
  readonly #sleepers = new Set<() => void>();
  #stopping = false;
  #swept = 0;

  constructor(house: House, kinds: Readonly<Record<JobKind, Work>>, lanes: number) {
    this.#house = house;
    this.#kinds = kinds;
    this.#lanes = Array.from({ length: lanes }, () => this.#lane(false));
    if (lanes > 0) this.#lanes.push(this.#lane(true));
  }

  nudge(): void {
    for (const wake of this.#sleepers) wake();
  }

  /** Lets running jobs end; what was not begun stays in the table. */
  async stop(): Promise<void> {
    this.#stopping = true;
    this.nudge();
    await Promise.all(this.#lanes);
  }

  async #lane(slow: boolean): Promise<void> {
    while (!this.#stopping) {
      try {
        const job = await claimJob(this.#house, slow);
        if (job) await this.#work(job, slow);
        else {
          await this.#sweep();
          await this.#sleep();
        }
      } catch (error) {
        this.#house.log.error({ err: error }, 'the job table could not be read');
        await this.#sleep();
      }
    }
  }

  async #work(job: ClaimedJob, slow: boolean): Promise<void> {
    const folder = await ownFolder('job');
    let [done, total, reported] = [job.done, job.total, 0];
    let held = true;
    const renew = async () => {
      held &&= await renewClaim(this.#house, job, done, total).catch(() => true);
    };
    const progress = (now: number, of: number) => {
      if (!held) throw new ClaimLost(`job ${job.id} was stopped, or is somebody else's`);
      [done, total] = [now, of];
      if (now < of && Date.now() - reported < REPORT_MS) return;
      reported = Date.now();
      void renew();
    };
    // As long as it is worked on it is held, however little it says of itself.
    const beat = setInterval(renew, CLAIM_MS / 3);
    try {
      const budget = slow ? FULL : QUICK;
      await this.#kinds[job.kind]({ house: this.#house, job, folder, budget, progress });
    } catch (error) {
      await this.#ended(job, slow, error);
    } finally {
      clearInterval(beat);
      await rm(folder, { recursive: true, force: true });
    }
  }

  /** A file's own fault ends its job; what takes long goes into the slow lane; all else is tried again after a pause. */
  async #ended(job: ClaimedJob, slow: boolean, error: unknown): Promise<void> {
    const { db, log } = this.#house;
    try {
      if (error instanceof ClaimLost) return;
      if (error instanceof NotYet) return await waitJob(this.#house, job, error.wait ?? IDLE_MS);
      if (error instanceof Fault) return await failJob(db.manager, job, error.code, error.facts);
      if (error instanceof Failed) {
        if (error.reason === 'too-slow' && !slow) return await slowDownJob(this.#house, job);
        log.warn({ err: error, job: job.id, kind: job.kind }, 'a job failed');
        return await failJob(db.manager, job, error.reason);
      }
      log.warn({ err: error, job: job.id, kind: job.kind }, 'a job is tried again');
      await postponeJob(this.#house, job, 'unexpected');
    } catch (lost) {
      if (!(lost instanceof ClaimLost)) throw lost;
    }
  }

  async #sweep(): Promise<void> {
    const now = this.#house.now();
    if (now - this.#swept < SWEEP_MS) return;
    this.#swept = now;
    const { db } = this.#house;
    for (;;) {
      const { jobs, files } = await sweepJobs(db.manager, now - KEPT_MS);
      for (const sha256 of files) await forget(db, sha256);
      if (jobs === 0) break;
    }
  }

  #sleep(): Promise<void> {
    return new Promise((resolve) => {
      const wake = () => {
        clearTimeout(clock);
        this.#sleepers.delete(wake);
        resolve();
      };
      const clock = setTimeout(wake, IDLE_MS);
      this.#sleepers.add(wake);
      if (this.#stopping) wake();
    });
  }
}
