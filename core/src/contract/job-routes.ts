import * as z from 'zod';
import { DocumentId, JobId, WorksheetId } from '../ids/id.ts';
import { BroughtInAny } from './brought-in.ts';
import { ErrorBody } from './errors.ts';
import { Bytes, route } from './route.ts';
import { DocumentState, Progress } from './shapes.ts';

/** What came of something that was ordered. */
export const JobOutcome = z.discriminatedUnion('of', [
  /** A file that arrived: it was taken and lies where it was meant to. */
  z.object({ of: z.literal('document'), document: DocumentState }),
  z.object({ of: z.literal('worksheet'), id: WorksheetId, documentId: DocumentId }),
  /** Marks that a file from elsewhere holds. */
  z.object({ of: z.literal('marks'), brought: BroughtInAny }),
  /** A file to save. */
  z.object({ of: z.literal('file'), name: z.string() }),
]);
export type JobOutcome = z.infer<typeof JobOutcome>;

export const JobState = z.object({
  jobId: JobId,
  progress: Progress,
  /** When it is done. */
  outcome: JobOutcome.nullable(),
  /** When it cannot be done, whoever asks again: why. */
  refused: ErrorBody.shape.error.nullable(),
});
export type JobState = z.infer<typeof JobState>;

const ofJob = z.object({ jobId: JobId });

/** Whatever takes longer than an answer may: how far it is, what came of it, and once more. */
export const jobRoutes = {
  job: route('GET', '/api/jobs/:jobId', 'person', 'How far something ordered is, and what came of it', {
    params: ofJob,
    reply: JobState,
  }),
  jobAgain: route('POST', '/api/jobs/:jobId/again', 'person', 'Try something again that failed', {
    params: ofJob,
    reply: JobState,
  }),
  jobStop: route('DELETE', '/api/jobs/:jobId', 'person', 'Stop something that was ordered', {
    params: ofJob,
    reply: JobState,
  }),
  jobFile: route('GET', '/api/jobs/:jobId/file', 'person', 'The file that was ordered', {
    params: ofJob,
    reply: Bytes,
    sends: 'bytes',
  }),
} as const;
