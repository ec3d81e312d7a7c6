import { type AssignmentId, type CopyId, type JobId, type PersonId, Progress } from '@jotmark/core';
import * as z from 'zod';
import {
  big,
  digest,
  flag,
  id,
  int,
  jsonOf,
  maybe,
  moment,
  oneOf,
  primary,
  table,
  text,
} from '../columns.ts';

export const HintKind = z.enum(['work', 'here', 'hand-in', 'word', 'hand-back', 'recall']);
/** What a hint is about: somebody worked, came or went, handed in, said something, or something was handed back or taken back in. */
export type HintKind = z.infer<typeof HintKind>;

/** A hint that something changed. Who hears it asks for what is new. */
export interface EventRow {
  seq: number;
  assignmentId: AssignmentId;
  copyId: CopyId;
  kind: HintKind;
  at: number;
}
export const EventTable = table<EventRow>('event', {
  seq: primary(big()),
  assignmentId: id(),
  copyId: id(),
  kind: oneOf(HintKind, 10),
  at: moment(),
});

export const JobKind = z.enum([
  'arrive',
  'bring-in',
  'read-document',
  'hand-back-pdf',
  'marked-pdf',
  'zip-originals',
  'plain-voice',
  'hand-back',
  'compact-text',
  'mail',
  'out',
]);
export type JobKind = z.infer<typeof JobKind>;

/** Something that takes longer than an answer may. */
export interface JobRow {
  id: JobId;
  kind: JobKind;
  /** What it is about; the same kind and subject are one job. */
  subject: string;
  state: Progress['state'];
  done: number;
  total: number;
  attempts: number;
  /** Why it failed. */
  error: string | null;
  /** What the error's sentence needs. */
  facts: Record<string, string | number> | null;
  /** The claim of whoever works on it now: what they store counts only with it. */
  claim: string | null;
  claimedUntil: number | null;
  /** It is not begun before; null: at once. */
  notBefore: number | null;
  createdAt: number;
  /** Whose turn it takes; null: nobody's. */
  personId: PersonId | null;
  /** Bytes it is about, roughly: small ones go first. */
  size: number;
  /** Somebody looks at a screen until it is done. */
  awaited: boolean;
  /** It took longer than a quick look, so it stands in the slow lane. */
  slow: boolean;
  /** What it was told, by its kind. */
  input: unknown;
  /** What came of it, by its kind. */
  result: unknown;
}
const Facts = z.record(z.string(), z.union([z.string(), z.number()]));
export const JobTable = table<JobRow>('job', {
  id: primary(id()),
  kind: oneOf(JobKind, 40),
  subject: id(),
  state: oneOf(Progress.shape.state, 10),
  done: int(),
  total: int(),
  attempts: int(),
  error: maybe(text(60)),
  facts: maybe(jsonOf(Facts)),
  claim: maybe(id()),
  claimedUntil: maybe(moment()),
  notBefore: maybe(moment()),
  createdAt: moment(),
  personId: maybe(id()),
  size: int(),
  awaited: flag(),
  slow: flag(),
  input: maybe(jsonOf(z.unknown())),
  result: maybe(jsonOf(z.unknown())),
});

/** A file that a job works with or has made: what arrived, or what is to be saved. Its bytes are kept as long as it is. */
export interface JobFileRow {
  jobId: JobId;
  position: number;
  name: string;
  sha256: string;
}
export const JobFileTable = table<JobFileRow>('job_file', {
  jobId: primary(id()),
  position: primary(int()),
  name: text(255),
  sha256: digest(),
});

export const MACHINERY = [EventTable, JobTable, JobFileTable];
