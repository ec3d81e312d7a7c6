import type { JobId, JobState, Ordered, Progress } from '@jotmark/core';
import { afterEach, expect, test, vi } from 'vitest';
import { outcomeOf, outcomeThat } from './order.ts';

afterEach(() => vi.unstubAllGlobals());

const jobId = '01a21263-aab7-77a6-ad1f-cbff6ce69f10' as JobId;
const at = (state: Progress['state'], ahead: number | null = null): Progress => ({
  state,
  done: 0,
  total: 0,
  error: state === 'failed' ? 'unexpected' : null,
  ahead,
});
const job = (progress: Progress, more: Partial<JobState> = {}): JobState => ({
  jobId,
  progress,
  outcome: null,
  refused: null,
  ...more,
});
const ordered = (progress = at('queued')): Ordered => ({ jobId, progress });

/** A server that gives these answers one after the other, and what it was asked. */
function answering(...states: JobState[]) {
  const asked: string[] = [];
  vi.stubGlobal('fetch', async (path: string, { method }: RequestInit) => {
    asked.push(`${method} ${path}`);
    return new Response(JSON.stringify(states[Math.min(asked.length, states.length) - 1]));
  });
  return asked;
}

const made = job(at('done'), { outcome: { of: 'file', name: 'map.pdf' } });

test('what was ordered is asked for until it is there; meanwhile it is said how many are before it', async () => {
  const asked = answering(job(at('queued', 2)), job(at('running')), made);
  const heard: (number | null)[] = [];
  expect(await outcomeOf(ordered(), ({ ahead }) => heard.push(ahead))).toEqual(made.outcome);
  expect(heard).toEqual([2, null]);
  expect(asked).toEqual(Array(3).fill(`GET /api/jobs/${jobId}`));
});

test('a refusal is told with its code and facts, a failure as ours', async () => {
  answering(job(at('done'), { refused: { code: 'file-password', facts: { name: 'map.pdf' } } }));
  await expect(outcomeOf(ordered())).rejects.toMatchObject({
    code: 'file-password',
    facts: { name: 'map.pdf' },
  });
  answering(job(at('failed')));
  await expect(outcomeOf(ordered())).rejects.toMatchObject({ code: 'unexpected' });
});

test('asked for again, what had failed is tried again', async () => {
  const asked = answering(job(at('queued')), made);
  await outcomeOf(ordered(at('failed')));
  expect(asked).toEqual([`POST /api/jobs/${jobId}/again`, `GET /api/jobs/${jobId}`]);
});

test('an outcome of another kind is a fault, not a value', () => {
  expect(outcomeThat(made.outcome!.of, made.outcome)).toBe(made.outcome);
  expect(() => outcomeThat('document', made.outcome)).toThrow();
  expect(() => outcomeThat('document', null)).toThrow();
});
