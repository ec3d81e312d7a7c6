import type { JobId, JobOutcome, JobState, Ordered, RouteName } from '@jotmark/core';
import { addressOf, CallFailed, call, upload } from './call.ts';

/** How far something is that takes longer than an answer may. */
export interface HowFar {
  /** How many others are before it; null: it is its turn. */
  readonly ahead: number | null;
  readonly done: number;
  readonly total: number;
}

/** Asked often at first, since most things are quick. */
const pauseAfter = (asked: number): number => (asked < 10 ? 120 : 400);

/**
 * Waits for something that was ordered. Throws CallFailed with the server's code when it was refused, and `unexpected` when it failed; asked for again, what had
 * failed is tried again.
 */
export async function outcomeOf(
  { jobId, progress }: Ordered,
  onProgress: (howFar: HowFar) => void = () => {},
  signal?: AbortSignal,
): Promise<JobOutcome | null> {
  const options = { params: { jobId }, ...(signal ? { signal } : {}) };
  let state: JobState =
    progress.state === 'failed' ? await call('jobAgain', options) : await call('job', options);
  for (let asked = 0; ; asked++) {
    if (state.refused) throw new CallFailed(state.refused.code, state.refused.facts);
    if (state.progress.state === 'failed') throw new CallFailed('unexpected');
    if (state.progress.state === 'done') return state.outcome;
    onProgress(state.progress);
    await new Promise((resolve) => setTimeout(resolve, pauseAfter(asked)));
    state = await call('job', options);
  }
}

/** Sends a file, or several in one go, and waits until it is known what comes of them. `onSent` hears the share that is sent, 0…1. */
export async function sendFiles(
  name: RouteName,
  params: Record<string, string>,
  files: File | readonly File[],
  {
    onSent = () => {},
    onProgress = () => {},
    signal = new AbortController().signal,
  }: {
    onSent?: (share: number) => void;
    onProgress?: (howFar: HowFar) => void;
    signal?: AbortSignal;
  } = {},
): Promise<JobOutcome> {
  const ordered = await upload<Ordered>(addressOf(name, params), files, onSent, signal);
  const outcome = await outcomeOf(ordered, onProgress);
  if (!outcome) throw new CallFailed('unexpected');
  return outcome;
}

/** The outcome of one kind; another is a fault of ours. */
export function outcomeThat<K extends JobOutcome['of']>(
  of: K,
  outcome: JobOutcome | null,
): Extract<JobOutcome, { of: K }> {
  if (outcome?.of !== of) throw new CallFailed('unexpected');
  return outcome as Extract<JobOutcome, { of: K }>;
}

/** Lets the browser save the file that was made. */
export function saveFile(jobId: JobId): void {
  const link = document.createElement('a');
  link.href = addressOf('jobFile', { jobId });
  link.download = '';
  link.click();
}

/** Waits for a file that was ordered, and saves it. */
export async function saveOrdered(ordered: Ordered, onProgress?: (howFar: HowFar) => void): Promise<void> {
  await outcomeOf(ordered, onProgress);
  saveFile(ordered.jobId);
}
