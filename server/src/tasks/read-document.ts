import { join } from 'node:path';
import { type CopyId, type DocumentId, type LongText, type NoPages, picturesOf } from '@jotmark/core';
import { In } from 'typeorm';
import { keepFile, writeBlobTo } from '../blobs/blob.ts';
import {
  DocumentPartTable,
  type DocumentRow,
  DocumentShapesTable,
  DocumentTable,
  DocumentTextTable,
  HandInTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insertOrUpdate, update } from '../database/write.ts';
import { textKept } from '../document/pages.ts';
import { type JobContext, NotYet, type Work } from '../jobs/context.ts';
import { finishJob } from '../jobs/queue.ts';
import type { Opener } from '../opening/opener.ts';
import { FilledAnswer, MadePdf, Read } from '../opening/task.ts';
import { Failed, FULL } from '../programs/failed.ts';
import { joinPdfs, mustRun } from '../programs/qpdf.ts';

/** Why a document gets no pages. It is kept and can be scored; the screen says what to do. */
class NoPagesFound extends Error {
  readonly why: NoPages;

  constructor(why: NoPages) {
    super(why);
    this.why = why;
  }
}

/** What a worksheet was to be filled in from is no more. */
class HandInGone extends Error {}

/**
 * The job that makes a document pages: converts what is no PDF, fills in what a student typed, puts several parts
 * together; then takes scripts out and keeps how the pages lie, their text, and of a worksheet what is drawn on them.
 */
export const readDocument =
  (opener: Opener): Work =>
  async (context) => {
    const { house, job, budget } = context;
    const document = await find(house.db.manager, DocumentTable, { id: job.subject as DocumentId });
    if (!document) return inTransaction(house.db, (tx) => finishJob(tx, job));
    try {
      const { pdf, partly } = await asPdf(context, opener, document);
      await readPages(context, opener, document, pdf, partly);
    } catch (error) {
      // It was taken back before it was read: there is nothing to read any more.
      if (error instanceof HandInGone) return inTransaction(house.db, (tx) => finishJob(tx, job));
      const why = whyNoPages(error, budget.cpuMs >= FULL.cpuMs, document);
      if (!why) throw error;
      await inTransaction(house.db, async (tx) => {
        await update(tx, DocumentTable, { id: document.id }, { shows: 'nothing', trouble: why, pages: 0 });
        await finishJob(tx, job);
      });
    }
  };

/** What is no fault of the file's own, or is a PDF of ours, fails its job instead and can be tried again. */
function whyNoPages(error: unknown, last: boolean, document: DocumentRow): NoPages | null {
  if (error instanceof NoPagesFound) return error.why;
  const converted = document.sha256 === null && document.filledFrom === null;
  return last && converted && error instanceof Failed && error.reason !== 'broken' ? 'too-slow' : null;
}

async function readPages(
  { house, job, folder, budget, progress }: JobContext,
  opener: Opener,
  document: DocumentRow,
  file: string,
  partly: boolean,
): Promise<void> {
  const at = (name: string) => join(folder, name);
  const shapes = document.ownerId === null ? null : at('shapes.json');
  const asked = { op: 'read', file, out: at('read.pdf'), text: at('text.json'), shapes } as const;
  const read = Read.parse(
    await opener.run({ ...asked, picture: at('picture.jpg') }, budget, progress).catch((error: unknown) => {
      // It may have been the picture that was too much, and everybody can do without.
      if (!(error instanceof Failed) || budget.cpuMs < FULL.cpuMs) throw error;
      return opener.run({ ...asked, picture: null }, budget, progress);
    }),
  );
  const now = house.now();
  const keep = async (path: string) => (await keepFile(house.db, path, now)).sha256;
  const sha256 = await keep(read.cleaned ? at('read.pdf') : file);
  const pictureSha256 = read.pictured ? await keep(at('picture.jpg')) : null;
  const text = await keep(at('text.json'));
  const drawn = shapes && (await keep(shapes));
  const documentId = document.id;
  await inTransaction(house.db, async (tx) => {
    const { frames } = read;
    await update(
      tx,
      DocumentTable,
      { id: documentId },
      {
        frames,
        pages: frames.length,
        sha256,
        pictureSha256,
        ...(partly && { trouble: 'part-missing' as const }),
      },
    );
    await insertOrUpdate(tx, DocumentTextTable, { documentId, sha256: text }, ['sha256']);
    if (drawn) await insertOrUpdate(tx, DocumentShapesTable, { documentId, sha256: drawn }, ['sha256']);
    await finishJob(tx, job);
  });
}

/** The document as one PDF file in the job's folder, and whether a part of it could not be read. */
async function asPdf(
  context: JobContext,
  opener: Opener,
  document: DocumentRow,
): Promise<{ readonly pdf: string; readonly partly: boolean }> {
  const { house, folder, budget } = context;
  if (document.filledFrom) return { pdf: await filledIn(context, opener, document), partly: false };
  const parts = await house.db.manager
    .getRepository(DocumentPartTable)
    .find({ where: { documentId: document.id }, order: { position: 'ASC' } });
  const all = parts.length
    ? parts.map((p) => p.sha256)
    : [document.sha256 ?? document.originalSha256].flatMap((s) => s ?? []);
  const pdfs: string[] = [];
  let partly = false;
  for (const [i, sha256] of all.entries()) {
    const file = join(folder, `part${i}`);
    const out = `${file}.pdf`;
    await writeBlobTo(house.db.manager, sha256, file);
    const made = MadePdf.parse(await opener.run({ op: 'to-pdf', file, out, folder, budget }, budget));
    if (made.trouble) throw new NoPagesFound(made.trouble);
    partly ||= made.partly;
    pdfs.push(out);
    context.progress(i, all.length);
  }
  const one = pdfs.length === 1 ? pdfs[0]! : join(folder, 'joined.pdf');
  if (pdfs.length > 1) await joinPdfs(pdfs, one, budget);
  if (!document.ownerId) return { pdf: one, partly };
  // A worksheet is made upright once, so that fields and writing stand as its pages are read.
  const upright = join(folder, 'upright.pdf');
  await mustRun([one, '--flatten-rotation', upright], budget);
  return { pdf: upright, partly };
}

/** A worksheet with what a student typed and drew, as it was frozen at the hand-in. */
async function filledIn(
  { house, folder, budget }: JobContext,
  opener: Opener,
  document: DocumentRow,
): Promise<string> {
  const db = house.db.manager;
  const handIn = await find(db, HandInTable, { id: document.filledFrom! });
  const version = await find(db, WorksheetVersionTable, { id: document.versionId! });
  const clean = version && (await find(db, DocumentTable, { id: version.documentId }));
  if (!handIn) throw new HandInGone();
  if (!version || !clean) throw new Failed('broken', 'the worksheet is gone');
  // The clean worksheet may itself still be on its way to pages.
  if (!clean.sha256 || !clean.frames) throw new NotYet('the worksheet is not read yet');
  const sheet = handIn.content?.sheets.find((s) => s.versionId === version.id);
  const file = join(folder, 'sheet.pdf');
  const out = join(folder, 'filled.pdf');
  const layer = await textKept(db, clean.id);
  const text = layer ? join(folder, 'sheet.json') : null;
  await writeBlobTo(db, clean.sha256, file);
  if (layer && text) await writeBlobTo(db, layer, text);
  const texts = sheet?.texts ?? {};
  const filled = await opener.run(
    {
      op: 'fill',
      file,
      out,
      questions: version.questions,
      answers: sheet?.answers ?? {},
      texts,
      pictures: await picturesFor(db, handIn.copyId, Object.values(texts), folder),
      marks: sheet?.marks ?? [],
      frames: clean.frames,
      text,
    },
    budget,
  );
  const { flows, notes } = FilledAnswer.parse(filled);
  if (flows.length || notes.length)
    await update(db, DocumentTable, { id: document.id }, { flows, ownNotes: notes });
  return out;
}

/** The pictures that texts of this copy show, as files. Those of other copies are nobody's business here. */
async function picturesFor(
  db: Db,
  copyId: CopyId,
  texts: readonly LongText[],
  folder: string,
): Promise<Record<DocumentId, string>> {
  const ids = [...new Set(texts.flatMap(picturesOf))];
  if (ids.length === 0) return {};
  const rows = await db.getRepository(DocumentTable).find({ where: { id: In(ids), copyId } });
  const out: Record<DocumentId, string> = {};
  for (const [i, { id, originalSha256 }] of rows.entries()) {
    if (!originalSha256) continue;
    out[id] = join(folder, `shown${i}`);
    await writeBlobTo(db, originalSha256, out[id]);
  }
  return out;
}
