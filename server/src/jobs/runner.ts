import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readDocument } from '../tasks/read-document.ts';
import { writeHandBackPdf } from '../tasks/hand-back-pdf.ts';
import type { House } from '../house.ts';
import { writeZip } from '../tasks/zip-originals.ts';
import { type Opener, TaskFailed } from '../opening/opener.ts';
import { type ClaimedJob, claimJob, failJob, type JobKind, reportProgress } from './queue.ts';

export interface JobContext {
  readonly house: House;
  readonly opener: Opener;
  readonly job: ClaimedJob;
  /** A folder of the job's own, gone when it ends. */
  readonly folder: string;
  progress(done: number, total: number): void;
}

/** What each kind of job does. It stores its result and calls the job finished in one transaction. */
const KINDS: Readonly<Record<JobKind, (context: JobContext) => Promise<void>>> = {
  'read-document': readDocument,
  'hand-back-pdf': writeHandBackPdf,
  'zip-originals': writeZip,
};

/** How long an idle runner waits before it asks the table again; `nudge` wakes it at once. */
const IDLE_MS = 400;

/** Works through the job table, `lanes` jobs at a time, until stopped. */
export class JobRunner {
  readonly #house: House;
  readonly #opener: Opener;
  readonly #who = `${process.pid}-${randomUUID().slice(0, 8)}`;
  readonly #lanes: Promise<void>[];
  readonly #sleepers = new Set<() => void>();
  #stopping = false;

  constructor(house: House, opener: Opener, lanes: number) {
    this.#house = house;
    this.#opener = opener;
    this.#lanes = Array.from({ length: lanes }, () => this.#lane());
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

  async #lane(): Promise<void> {
    while (!this.#stopping) {
      try {
        const job = await claimJob(this.#house, this.#who);
        if (job) await this.#work(job);
        else await this.#sleep();
      } catch (error) {
        this.#house.log.error({ err: error }, 'the job table could not be read');
        await this.#sleep();
      }
    }
  }

  async #work(job: ClaimedJob): Promise<void> {
    const folder = await mkdtemp(join(tmpdir(), 'jotmark-job-'));
    let reported = 0;
    const progress = (done: number, total: number) => {
      if (done < total && this.#house.now() - reported < 300) return;
      reported = this.#house.now();
      reportProgress(this.#house, job, done, total).catch(() => {});
    };
    try {
      await KINDS[job.kind]({ house: this.#house, opener: this.#opener, job, folder, progress });
    } catch (error) {
      this.#house.log.warn({ err: error, job }, 'a job failed');
      await failJob(this.#house.db, job, error instanceof TaskFailed ? error.reason : 'unexpected');
    } finally {
      await rm(folder, { recursive: true, force: true });
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
