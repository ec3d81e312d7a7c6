import { createHash } from 'node:crypto';
import { open, readFile as readText } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type AnnotatedPages,
  type AnnotationsFound,
  AssignmentId,
  type BroughtIn,
  type BroughtInAny,
  type CopyId,
  type DocumentId,
  fullName,
  HandInId,
  type JobId,
  type Mark,
  type MarkId,
  makeId,
  type Person,
  pageSize,
  type RealName,
  readWebAnnotations,
  recordingOf,
  seenName,
  spokenWords,
} from '@jotmark/core';
import * as z from 'zod';
import { keepFile, writeBlobTo } from '../blobs/blob.ts';
import { newestHandIn } from '../copy/away.ts';
import {
  CopyTable,
  type DocumentRow,
  HandInDocumentTable,
  HandInTable,
  JobFileTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import type { JobContext, Work } from '../jobs/context.ts';
import { finishJob, orderJob } from '../jobs/queue.ts';
import { sized } from '../opening/judge.ts';
import type { Opener } from '../opening/opener.ts';
import { JudgedAnswer, MarksRead, XfdfLaid } from '../opening/task.ts';
import { keepPictureFile } from '../people/pictures.ts';
import { studentsOf, whose } from '../people/students.ts';
import { Failed, FULL } from '../programs/failed.ts';
import { missingVoices } from '../voice/keep.ts';
import type { FileOnDisk } from './arrive.ts';
import { joined, pagedDocuments } from './write-marked.ts';

const Input = z.union([z.object({ handInId: HandInId }), z.object({ assignmentId: AssignmentId })]);
/** For this hand-in, or for whichever of this assignment it is found to belong to. */
export type BroughtFor = z.infer<typeof Input>;

interface PageOfCopy {
  readonly document: DocumentId;
  readonly page: number;
}

/** Orders that a PDF be read that was marked in whatever program: what marks it holds, and for whom. Nothing is changed by it. */
export async function orderBringIn(
  house: House,
  person: Person,
  input: BroughtFor,
  file: FileOnDisk,
): Promise<JobId> {
  const size = await sized(file.path, file.name);
  const { sha256 } = await keepFile(house.db, file.path, house.now());
  return inTransaction(house.db, (tx) =>
    orderJob(house, tx, {
      kind: 'bring-in',
      subject: null,
      personId: person.id,
      awaited: true,
      size,
      input,
      files: [{ name: file.name, sha256 }],
    }),
  );
}

/**
 * The job that reads it. Its pages are found by what they say of themselves, else by their order; whose it is by that too, else by the one student whose
 * name is in the file's. What the student had in the file already is not the teacher's.
 */
export const bringIn =
  (opener: Opener): Work =>
  async (context) => {
    const { house, job } = context;
    const db = house.db.manager;
    const input = Input.parse(job.input);
    const file = (await find(db, JobFileTable, { jobId: job.id }))!;
    const told = 'handInId' in input ? await toldIn(context, opener, input.handInId, file) : null;
    if (told && 'handInId' in input) {
      const brought: BroughtInAny = { to: await forThis(db, input.handInId), ...told };
      return inTransaction(house.db, (tx) => finishJob(tx, job, brought));
    }
    const found = await readFile(context, opener, file);
    const to =
      'handInId' in input
        ? await forThis(db, input.handInId)
        : await forWhom(db, input.assignmentId, found, file.name);
    const brought: BroughtInAny = to
      ? { to, ...(await forHandIn(context, opener, to.handInId, found)) }
      : { to: null, marks: [], unknown: [], offPage: 0 };
    await inTransaction(house.db, (tx) => finishJob(tx, job, brought));
  };

type Whom = NonNullable<BroughtInAny['to']>;

async function forThis(db: Db, handInId: HandInId): Promise<Whom> {
  const handIn = await find(db, HandInTable, { id: handInId });
  const students = handIn && (await whose(db, handIn.copyId));
  if (!students) throw new Fault('taken-back');
  return { copyId: students.copyId, handInId, name: fullName(seenName(students)) };
}

/** Null: nobody's, more than one's, or one that was handed back. */
async function forWhom(
  db: Db,
  assignmentId: AssignmentId,
  found: MarksRead,
  fileName: string,
): Promise<Whom | null> {
  const copies = await db.getRepository(CopyTable).find({ where: { assignmentId } });
  const ids: CopyId[] = copies.map((c) => c.id);
  const students = await studentsOf(db, ids);
  const said = new Set(found.pages.flatMap((page) => page?.document ?? []));
  const meant: Whom[] = [];
  for (const copyId of ids) {
    const newest = await newestHandIn(db, copyId);
    const names = students.get(copyId);
    if (!newest || newest.cameBack || !names) continue;
    const handInId = newest.handIn.id;
    const seen = seenName(names);
    const documents = await db.getRepository(HandInDocumentTable).find({ where: { handInId } });
    if (said.size ? documents.some((d) => said.has(d.documentId)) : isNamed(fileName, seen))
      meant.push({ copyId, handInId, name: fullName(seen) });
  }
  return meant.length === 1 ? meant[0]! : null;
}

const plain = (text: string): string =>
  ` ${text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')} `;

/** Whether a file's name has both names of a student in it, as whole words in any order. */
function isNamed(file: string, { given, family }: RealName): boolean {
  const name = plain(file);
  return [given, family].every((part) => name.includes(plain(part)));
}

/** What an XFDF or Web Annotations tell for this hand-in; null: the file is neither, and so a PDF or nothing. Made for another hand-in it is refused. */
async function toldIn(
  context: JobContext,
  opener: Opener,
  handInId: HandInId,
  { name, sha256 }: { readonly name: string; readonly sha256: string },
): Promise<BroughtIn | null> {
  const { house, folder, budget } = context;
  const db = house.db.manager;
  const path = join(folder, 'told');
  await writeBlobTo(db, sha256, path);
  const start = (await firstLetters(path)).trimStart();
  if (!/^[<{[]/.test(start)) return null;
  const mustBeFor = (ids: string) => {
    if (/^[0-9a-f]{32}$/i.test(ids) && ids.toLowerCase() !== bareId(handInId))
      throw new Fault('other-document', { name });
  };
  const documents = await pagedDocuments(db, handInId);
  if (!start.startsWith('<')) {
    const found = await annotationsIn(path, documents);
    if (!found) throw new Fault('not-marks', { name });
    mustBeFor(bareId(found.ids));
    const missing = new Set(
      await missingVoices(
        db,
        found.marks.flatMap((m) => recordingOf(m)?.file ?? []),
      ),
    );
    return {
      marks: found.marks.map((m) => withoutVoice(m, missing)),
      offPage: found.offPage,
      unknown: found.unknown ? [{ kind: 'annotation', count: found.unknown }] : [],
    };
  }
  if (documents.length === 0) throw new Fault('not-marks', { name });
  const files: string[] = [];
  for (const d of documents) {
    const file = join(folder, `under-${d.id}.pdf`);
    await writeBlobTo(db, d.sha256!, file);
    files.push(file);
  }
  const under = await joined(context, files, 'under');
  const out = join(folder, 'laid.pdf');
  const laid = XfdfLaid.parse(
    await run(context, name, opener.run({ op: 'xfdf-in', file: under, xfdf: path, out }, budget)),
  );
  if (!laid) throw new Fault('not-marks', { name });
  mustBeFor(laid.ids);
  const found = await read(context, opener, out, name);
  for (const digest of found.bytes) await keepPictureFile(house, join(folder, digest));
  const brought = await forHandIn(context, opener, handInId, {
    ...found,
    unknown: [...found.unknown, ...laid.unknown],
  });
  // Where the file is ours its subjects are our focuses; those of other programs say what tool was used.
  const ours = laid.ids.toLowerCase() === bareId(handInId);
  const focusOf = (mark: Mark) => (ours ? (laid.subjects[mark.id]?.slice(0, 40) ?? mark.focus) : mark.focus);
  return {
    ...brought,
    marks: brought.marks.map((m) => ({ ...m, focus: focusOf(m) })),
    offPage: brought.offPage + laid.offPage,
  };
}

/** An id of ours as other forms have it: 32 hexadecimal digits. */
export const bareId = (id: string): string => id.replaceAll('-', '').toLowerCase();

async function firstLetters(path: string): Promise<string> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(64), 0, 64, 0);
    return buffer
      .subarray(0, bytesRead)
      .toString('utf8')
      .replace(/^\ufeff/, '');
  } finally {
    await file.close();
  }
}

async function annotationsIn(
  path: string,
  documents: readonly DocumentRow[],
): Promise<AnnotationsFound | null> {
  let raw: unknown;
  try {
    raw = JSON.parse(await readText(path, 'utf8'));
  } catch {
    return null;
  }
  return readWebAnnotations(
    raw,
    documents.map(pagesToAnnotate),
    (item) => makeId(0, createHash('sha256').update(item).digest().subarray(0, 10)) as MarkId,
  );
}

export const pagesToAnnotate = (d: DocumentRow): AnnotatedPages => ({
  id: d.id,
  name: d.name,
  sizes: (d.frames ?? []).map(pageSize),
});

/** Judges the file as any that arrives, and reads its annotations. The bytes that marks name are kept. */
async function readFile(
  context: JobContext,
  opener: Opener,
  { name, sha256 }: { readonly name: string; readonly sha256: string },
): Promise<MarksRead> {
  const { house, folder, budget } = context;
  const path = join(folder, 'marked.pdf');
  const mended = `${path}.mended`;
  await writeBlobTo(house.db.manager, sha256, path);
  const answer = JudgedAnswer.parse(
    await run(context, name, opener.run({ op: 'judge', file: path, name, mended, budget }, budget)),
  );
  if ('refused' in answer) throw new Fault(answer.refused.code, answer.refused.facts);
  if (answer.judged.type !== 'application/pdf') throw new Fault('file-not-pdf', { name });
  const found = await read(context, opener, answer.judged.mended ? mended : path, name);
  for (const digest of found.bytes) await keepPictureFile(house, join(folder, digest));
  return found;
}

async function read(context: JobContext, opener: Opener, file: string, name: string): Promise<MarksRead> {
  const { folder, budget, progress } = context;
  return MarksRead.parse(
    await run(context, name, opener.run({ op: 'read-marks', file, folder }, budget, progress)),
  );
}

/** What costs too much goes into the slow lane first; there it is the file's fault. */
async function run<T>({ budget }: JobContext, name: string, work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (!(error instanceof Failed)) throw error;
    if (error.reason === 'too-slow' && budget.cpuMs < FULL.cpuMs) throw error;
    throw new Fault(error.reason === 'broken' ? 'file-damaged' : 'file-slow', { name });
  }
}

async function forHandIn(
  context: JobContext,
  opener: Opener,
  handInId: HandInId,
  found: MarksRead,
): Promise<BroughtIn> {
  const documents = await pagedDocuments(context.house.db.manager, handInId);
  const pages = pagesOf(found, documents);
  const theirs = await marksOfStudent(context, opener, documents);
  const voices = new Set(
    await missingVoices(
      context.house.db.manager,
      found.marks.flatMap((m) => recordingOf(m)?.file ?? []),
    ),
  );
  const marks: Mark[] = [];
  let offPage = 0;
  for (const mark of found.marks) {
    const at = pages[mark.page];
    if (!at) offPage++;
    else if (!theirs.has(`${at.document}:${mark.id}`)) marks.push({ ...withoutVoice(mark, voices), ...at });
  }
  const kinds = new Map<string, number>();
  for (const kind of found.unknown) kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
  if (found.unread) kinds.set('one too many', found.unread);
  return { marks, offPage, unknown: [...kinds].map(([kind, count]) => ({ kind, count })) };
}

/** Which page of the hand-in each page of the file is. */
function pagesOf(found: MarksRead, documents: readonly DocumentRow[]): (PageOfCopy | null)[] {
  const order = documents.flatMap((d) =>
    Array.from({ length: d.pages }, (_, page): PageOfCopy => ({ document: d.id, page })),
  );
  const said = found.pages.some((page) => page !== null);
  return found.pages.map((sign, i) => {
    if (!said) return order[i] ?? null;
    return order.find((p) => p.document === sign?.document && p.page === sign.page) ?? null;
  });
}

/** Annotations that were in the documents when they were handed in, as document and id. */
/** A note of another school's may name a recording that was never here: its words stay, and those that were said. */
function withoutVoice(mark: Mark, missing: ReadonlySet<string>): Mark {
  const recording = recordingOf(mark);
  if (mark.kind !== 'note' || !recording || !missing.has(recording.file)) return mark;
  const { voice: _, ...bare } = mark;
  return { ...bare, words: [bare.words, spokenWords(recording)].filter(Boolean).join('\n').slice(0, 4000) };
}

async function marksOfStudent(
  context: JobContext,
  opener: Opener,
  documents: readonly DocumentRow[],
): Promise<ReadonlySet<string>> {
  const theirs = new Set<string>();
  for (const document of documents) {
    const file = join(context.folder, document.id);
    await writeBlobTo(context.house.db.manager, document.sha256!, file);
    // One that cannot be read has nothing to tell apart.
    const found = await read(context, opener, file, '').catch((error: unknown) => {
      if (error instanceof Fault) return null;
      throw error;
    });
    for (const mark of found?.marks ?? []) theirs.add(`${document.id}:${mark.id}`);
  }
  return theirs;
}
