import { join } from 'node:path';
import {
  AssignmentId,
  CopyId,
  DocumentId,
  type DocumentState,
  type JobId,
  MOST_PICTURES,
  type Person,
  PersonId,
  type Question,
  WorksheetId,
} from '@jotmark/core';
import * as z from 'zod';
import { addMaterial } from '../assignment/materials.ts';
import { forget, type Kept, keepFile, writeBlobTo } from '../blobs/blob.ts';
import { lockOwnCopy } from '../copy/away.ts';
import { layFile } from '../copy/files.ts';
import { DocumentTable, JobFileTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { remove } from '../database/write.ts';
import { keepJudged, makeDocument, type Part } from '../document/document.ts';
import { documentState } from '../document/state.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob, orderJob } from '../jobs/queue.ts';
import { sized } from '../opening/judge.ts';
import type { Opener } from '../opening/opener.ts';
import { JudgedAnswer } from '../opening/task.ts';
import { type Budget, Failed, FULL } from '../programs/failed.ts';
import { makeWorksheet } from '../worksheet/worksheet.ts';

/** Where an arriving file is meant to lie. */
export const Arriving = z.discriminatedUnion('at', [
  z.object({ at: z.literal('copy'), copyId: CopyId }),
  /** A picture in a text that grows. */
  z.object({ at: z.literal('text'), copyId: CopyId }),
  /** To be handed in for a student: it is the teacher's before it is. */
  z.object({ at: z.literal('for-student'), ownerId: PersonId }),
  z.object({
    at: z.literal('assignment'),
    assignmentId: AssignmentId,
    kind: z.enum(['file', 'picture']),
    ownerId: PersonId,
  }),
  z.object({ at: z.literal('worksheet'), ownerId: PersonId }),
  /** Beside words of this teacher's. */
  z.object({ at: z.literal('help'), ownerId: PersonId }),
]);
export type Arriving = z.infer<typeof Arriving>;

/** Documents that a copy may have in all: what was handed in, what lies on it, and what its texts show or showed. */
const MOST_OF_A_COPY = 600;

/** What came of it: see `JobOutcome` of the contract. */
export const Arrived = z.union([
  z.object({ worksheetId: WorksheetId, documentId: DocumentId }),
  z.object({ documentId: DocumentId }),
]);
export type Arrived = z.infer<typeof Arrived>;

export interface FileOnDisk {
  readonly path: string;
  readonly name: string;
}

/**
 * Takes in uploaded files: their bytes are kept and a job is ordered that judges them and lays them where they belong. So nobody waits in a request,
 * nothing is lost when a server dies, and everybody sees their place in the queue.
 */
export async function orderArrival(
  house: House,
  person: Pick<Person, 'id'>,
  to: Arriving,
  files: readonly FileOnDisk[],
): Promise<JobId> {
  const kept: { name: string; sha256: string; bytes: number }[] = [];
  for (const file of files) {
    await sized(file.path, file.name);
    kept.push({ name: file.name, ...(await keepFile(house.db, file.path, house.now())) });
  }
  return inTransaction(house.db, (tx) =>
    orderJob(house, tx, {
      kind: 'arrive',
      subject: null,
      personId: person.id,
      size: kept.reduce((sum, k) => sum + k.bytes, 0),
      awaited: true,
      input: to,
      files: kept.map(({ name, sha256 }) => ({ name, sha256 })),
    }),
  );
}

/** The job that judges arriving files and lays them where they belong. What is refused is not kept. */
export const arrive =
  (opener: Opener): Work =>
  async ({ house, job, folder, budget, progress }) => {
    const to = Arriving.parse(job.input);
    const db = house.db.manager;
    const files = await db
      .getRepository(JobFileTable)
      .find({ where: { jobId: job.id }, order: { position: 'ASC' } });
    const parts: Part[] = [];
    try {
      for (const [i, { name, sha256 }] of files.entries()) {
        progress(i, files.length);
        const path = join(folder, `file${i}`);
        await writeBlobTo(db, sha256, path);
        const original = { sha256, bytes: await sized(path, name) };
        parts.push(await judged(house, opener, budget, { path, name }, original));
      }
      await inTransaction(house.db, async (tx) => {
        await finishJob(tx, job, await lay(house, tx, to, oneAtLeast(parts), []));
      });
    } catch (error) {
      if (error instanceof Fault) await forgetFiles(house, job.id, files);
      throw error;
    }
  };

async function forgetFiles(house: House, jobId: JobId, files: readonly { sha256: string }[]): Promise<void> {
  await remove(house.db.manager, JobFileTable, { jobId });
  for (const { sha256 } of files) await forget(house.db, sha256);
}

/** Judges one file. In the slow lane what costs too much is refused; before, it goes there. */
async function judged(
  house: House,
  opener: Opener,
  budget: Budget,
  { path, name }: FileOnDisk,
  original: Kept,
): Promise<Part> {
  const mended = `${path}.mended`;
  const answer = await opener
    .run({ op: 'judge', file: path, name, mended, budget }, budget)
    .catch((error: unknown) => {
      if (!(error instanceof Failed)) throw error;
      if (error.reason === 'too-slow' && budget.cpuMs < FULL.cpuMs) throw error;
      throw new Fault(error.reason === 'broken' ? 'file-damaged' : 'file-slow', { name });
    });
  const found = JudgedAnswer.parse(answer);
  if ('refused' in found) throw new Fault(found.refused.code, found.refused.facts);
  return keepJudged(house, { name, original, mended }, found.judged);
}

const oneAtLeast = (parts: readonly Part[]): readonly [Part, ...Part[]] => {
  const [first, ...rest] = parts;
  if (!first) throw new Fault('bad-input', { what: 'file' });
  return [first, ...rest];
};

async function lay(
  house: House,
  tx: Db,
  to: Arriving,
  parts: readonly [Part, ...Part[]],
  questions: readonly Question[],
): Promise<Arrived> {
  const [{ name, judged: first }] = parts;
  switch (to.at) {
    case 'copy': {
      const documentId = await makeDocument(house, tx, { copyId: to.copyId }, name, parts, null);
      await layFile(tx, to.copyId, documentId);
      return { documentId };
    }
    case 'text': {
      if (!first.type.startsWith('image/') || first.shows !== 'pages')
        throw new Fault('not-a-picture', { name });
      await lockOwnCopy(tx, to.copyId);
      const there = await tx.getRepository(DocumentTable).count({ where: { copyId: to.copyId } });
      if (there >= MOST_OF_A_COPY) throw new Fault('too-many-pictures', { most: MOST_PICTURES });
      const documentId = await makeDocument(house, tx, { copyId: to.copyId }, name, parts, null);
      return { documentId };
    }
    case 'assignment': {
      if (to.kind === 'picture' && (!first.type.startsWith('image/') || first.shows !== 'pages'))
        throw new Fault('file-not-pages', { name });
      const documentId = await makeDocument(house, tx, { ownerId: to.ownerId }, name, parts, to.ownerId);
      await addMaterial(house, tx, to.assignmentId, to.kind, name, { documentId });
      return { documentId };
    }
    case 'for-student':
    case 'help':
      return {
        documentId: await makeDocument(house, tx, { ownerId: to.ownerId }, name, parts, to.ownerId),
      };
    case 'worksheet': {
      const { id, documentId } = await makeWorksheet(house, tx, to.ownerId, parts, questions);
      return { worksheetId: id, documentId };
    }
  }
}

/** For code that makes schools: the same at once, without the queue. */
export async function arriveNow(
  house: House,
  opener: Opener,
  to: Arriving,
  files: readonly FileOnDisk[],
  questions: readonly Question[] = [],
): Promise<Arrived> {
  const parts: Part[] = [];
  for (const file of files) {
    await sized(file.path, file.name);
    const original = await keepFile(house.db, file.path, house.now());
    parts.push(await judged(house, opener, FULL, file, original));
  }
  return inTransaction(house.db, (tx) => lay(house, tx, to, oneAtLeast(parts), questions));
}

/** The same for a file that is laid on a copy. */
export async function addFile(
  house: House,
  opener: Opener,
  copyId: CopyId,
  file: FileOnDisk,
): Promise<DocumentState> {
  const { documentId } = await arriveNow(house, opener, { at: 'copy', copyId }, [file]);
  return documentState(house.db.manager, documentId);
}

/** The same for a worksheet with its questions. */
export async function addWorksheetFile(
  house: House,
  opener: Opener,
  person: Pick<Person, 'id'>,
  files: readonly FileOnDisk[],
  questions: readonly Question[] = [],
): Promise<WorksheetId> {
  const arrived = await arriveNow(house, opener, { at: 'worksheet', ownerId: person.id }, files, questions);
  return (arrived as Extract<Arrived, { worksheetId: WorksheetId }>).worksheetId;
}
