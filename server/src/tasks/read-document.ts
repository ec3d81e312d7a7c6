import { rename } from 'node:fs/promises';
import { join } from 'node:path';
import { FILE_LIMITS, HandInContent, type NoPages, PageFrame, PageShapes, PageText } from '@jotmark/core';
import * as z from 'zod';
import type { RawRow } from '../database/raw.ts';
import { keepFile, writeBlobTo } from '../blobs/blob.ts';
import { kindOf } from '../opening/kind.ts';
import { joinPdfs, mustRun, qpdf } from '../programs/qpdf.ts';
import { TaskFailed } from '../opening/opener.ts';
import { finishJob } from '../jobs/queue.ts';
import type { JobContext } from '../jobs/runner.ts';
import { Read } from '../opening/task.ts';
import { convertOffice } from '../office/convert.ts';

/** Why a document gets no pages. It is kept and can be scored; the screen says what to do. */
class NoPagesFound extends Error {
  readonly why: NoPages;

  constructor(why: NoPages) {
    super(why);
    this.why = why;
  }
}

/**
 * The job that makes a document pages: converts what is no PDF, fills in what a student typed, puts several parts
 * together; then takes scripts out and keeps how the pages lie, their text, and of a worksheet what is drawn on them.
 */
export async function readDocument(context: JobContext): Promise<void> {
  const { house, job } = context;
  const [document] = await house.db.query(
    'SELECT id, sha256, original_sha256, filled_from, version_id, owner_id FROM document WHERE id = ?',
    [job.subject],
  );
  if (!document) return finishJob(house.db, job);
  try {
    await readPages(context, document, await asPdf(context, document));
  } catch (error) {
    if (!(error instanceof NoPagesFound)) throw error;
    await house.db.transaction(async (tx) => {
      await tx.query(`UPDATE document SET shows = 'nothing', trouble = ? WHERE id = ?`, [
        error.why,
        document.id,
      ]);
      await finishJob(tx, job);
    });
  }
}

async function readPages(
  { house, opener, job, folder, progress }: JobContext,
  document: RawRow,
  file: string,
): Promise<void> {
  const out = join(folder, 'read.pdf');
  const picture = join(folder, 'picture.jpg');
  const shapes = document.owner_id !== null;
  const read = Read.parse(await opener.run({ op: 'read', file, out, shapes, picture }, progress));
  const text = z.array(PageText).parse(read.text);
  const { sha256 } = await keepFile(house.db, read.cleaned ? out : file, new Date(house.now()));
  const small = await keepFile(house.db, picture, new Date(house.now())).catch(() => null);
  await house.db.transaction(async (tx) => {
    await tx.query('UPDATE document SET frames = ?, pages = ?, sha256 = ?, picture_sha256 = ? WHERE id = ?', [
      JSON.stringify(read.frames),
      read.frames.length,
      sha256,
      small?.sha256 ?? null,
      job.subject,
    ]);
    await tx.query('REPLACE INTO document_text (document_id, pages) VALUES (?, ?)', [
      job.subject,
      JSON.stringify(text),
    ]);
    if (read.shapes)
      await tx.query('REPLACE INTO document_shapes (document_id, pages) VALUES (?, ?)', [
        job.subject,
        JSON.stringify(z.array(PageShapes).parse(read.shapes)),
      ]);
    await finishJob(tx, job);
  });
}

/** The document as one PDF file in the job's folder. */
async function asPdf(context: JobContext, document: RawRow): Promise<string> {
  const { house, folder } = context;
  if (document.filled_from) return filledIn(context, document);
  const parts: { sha256: string }[] = await house.db.query(
    'SELECT sha256 FROM document_part WHERE document_id = ? ORDER BY position',
    [document.id],
  );
  const all = parts.length ? parts.map((p) => p.sha256) : [document.sha256 ?? document.original_sha256];
  const pdfs: string[] = [];
  for (const [i, sha256] of all.entries()) {
    const file = join(folder, `part${i}`);
    await writeBlobTo(house.db, sha256, file);
    pdfs.push(await onePdf(context, file));
    context.progress(i, all.length);
  }
  const one = pdfs.length === 1 ? pdfs[0]! : await joined(pdfs, join(folder, 'joined.pdf'));
  // A worksheet is made upright once, so that fields and writing stand as its pages are read.
  return document.owner_id ? upright(one, join(folder, 'upright.pdf')) : one;
}

async function onePdf({ opener, folder }: JobContext, file: string): Promise<string> {
  const kind = await kindOf(file, 'part');
  if (kind.family === 'pdf') return file;
  const out = `${file}.pdf`;
  if (kind.family === 'picture') {
    await opener.run({ op: 'picture', file, out });
    return out;
  }
  if (!kind.filter) throw new NoPagesFound(kind.trouble ?? 'unknown-kind');
  opener.warm();
  try {
    await rename(await convertOffice(file, kind.filter, folder), out);
  } catch (error) {
    if (error instanceof TaskFailed)
      throw new NoPagesFound(error.reason === 'too-slow' ? 'too-slow' : 'not-converted');
    throw error;
  }
  const { out: count } = await qpdf(['--show-npages', out]);
  if (Number.parseInt(count, 10) > FILE_LIMITS.pages) throw new NoPagesFound('too-many-pages');
  return out;
}

async function joined(pdfs: readonly string[], out: string): Promise<string> {
  await joinPdfs(pdfs, out);
  return out;
}

async function upright(file: string, out: string): Promise<string> {
  await mustRun([file, '--flatten-rotation', out]);
  return out;
}

/** A worksheet with what a student typed and drew, as it was frozen at the hand-in. */
async function filledIn({ house, opener, folder }: JobContext, document: RawRow): Promise<string> {
  const [row] = await house.db.query(
    `SELECT h.content, w.questions, d.sha256, d.frames, t.pages AS text FROM hand_in h
       JOIN worksheet_version w ON w.id = ? JOIN document d ON d.id = w.document_id
       LEFT JOIN document_text t ON t.document_id = d.id WHERE h.id = ?`,
    [document.version_id, document.filled_from],
  );
  if (!row) throw new TaskFailed('broken', 'the hand-in is gone');
  // The clean worksheet may itself still be on its way to pages: this job is tried again.
  if (!row.sha256 || !row.frames) throw new TaskFailed('broken', 'the worksheet is not read yet');
  const content = HandInContent.parse(JSON.parse(row.content));
  const sheet = content.sheets.find((s) => s.versionId === document.version_id);
  const file = join(folder, 'sheet.pdf');
  const out = join(folder, 'filled.pdf');
  await writeBlobTo(house.db, row.sha256, file);
  await opener.run({
    op: 'fill',
    file,
    out,
    questions: JSON.parse(row.questions),
    answers: sheet?.answers ?? {},
    marks: sheet?.marks ?? [],
    frames: z.array(PageFrame).parse(JSON.parse(row.frames)),
    text: row.text ? z.array(PageText).parse(JSON.parse(row.text)) : [],
  });
  return out;
}
