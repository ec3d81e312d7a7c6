import { readFile, rename, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { PDFDocument } from '@cantoo/pdf-lib';
import { FILE_LIMITS, type NoPages, type PageFrame, type PageShapes, PageText } from '@jotmark/core';
import * as z from 'zod';
import { Fault } from '../fault.ts';
import { convertOffice, mayConvert } from '../office/convert.ts';
import { cutOutside } from '../office/outside.ts';
import { fitSheets, MOST_ROWS } from '../office/sheet-pages.ts';
import { readTables } from '../office/table-file.ts';
import { Appending } from '../pdf/append.ts';
import { besideMarks } from '../pdf/beside.ts';
import type { BytesOf } from '../pdf/bytes.ts';
import { takeOutScripts } from '../pdf/clean.ts';
import { coverPages } from '../pdf/cover-sheet.ts';
import { withDocument } from '../pdf/engine.ts';
import { fillSheet } from '../pdf/fill.ts';
import { filmLists } from '../pdf/film-list.ts';
import { flattenMarks } from '../pdf/flat.ts';
import { readFrames } from '../pdf/frames.ts';
import { writeNames } from '../pdf/name.ts';
import { partPages } from '../pdf/own-pages.ts';
import { openPdf, openPdfFile, savePdf } from '../pdf/pdf.ts';
import { pictureToPdf, readablePicture } from '../pdf/picture.ts';
import { readMarks } from '../pdf/read-marks.ts';
import { scannedRules } from '../pdf/scanned-rules.ts';
import { readFields, readShapes } from '../pdf/shapes.ts';
import { writePicture } from '../pdf/small-picture.ts';
import { readPageText } from '../pdf/text.ts';
import type { VoiceFile, VoicesOf } from '../pdf/voices.ts';
import { writeMarks } from '../pdf/write-marks.ts';
import { layXfdf, readXfdf, writeXfdf } from '../pdf/xfdf.ts';
import { type Budget, Failed } from '../programs/failed.ts';
import { qpdf } from '../programs/qpdf.ts';
import { judge } from './judge.ts';
import { type Kind, kindOf } from './kind.ts';
import type { Answer, MadePdf, Task } from './task.ts';
import { textAsUtf8 } from './text-bytes.ts';

/** The process in which uploaded bytes are opened. Whoever started it may kill it at any moment. */
const say = (answer: Answer) => process.send?.(answer);
const progress = (done: number, total: number) => say({ kind: 'progress', done, total });

/** A spreadsheet that is larger than this as text has more rows than anybody marks. */
const MOST_FLAT_BYTES = 80 * 1024 ** 2;

type Of<Op extends Task['op']> = Extract<Task, { op: Op }>;

async function work(task: Task): Promise<unknown> {
  switch (task.op) {
    case 'judge':
      return judgeFile(task);
    case 'to-pdf':
      return toPdf(task);
    case 'read':
      return read(task);
    case 'read-marks':
      return marksIn(task);
    case 'read-tables':
      return orRefused(async () => ({ tables: await readTables(task.file, task.name) }));
    case 'fill': {
      const pdf = await openPdfFile(task.file);
      const { flows, notes } = await fillSheet(pdf, { ...task, text: await textIn(task.text) });
      await writeFile(task.out, await savePdf(pdf));
      return { pages: pdf.getPageCount(), flows, notes };
    }
    case 'write-marks':
      return annotate(task);
    case 'xfdf-out': {
      const pdf = await openPdfFile(task.file);
      await writeFile(task.out, writeXfdf(pdf, task));
      return { written: pdf.getPageCount() };
    }
    case 'xfdf-in': {
      const found = readXfdf(await readFile(task.xfdf, 'utf8'));
      if (!found) return null;
      const pdf = await openPdfFile(task.file);
      const laid = layXfdf(pdf, found);
      await writeFile(task.out, await savePdf(pdf));
      return { ids: found.ids, ...laid };
    }
    case 'list-films': {
      const pdf = await filmLists(task.films, task.author, await voicesAt(task.voices), task.about);
      await writeFile(task.out, await savePdf(pdf));
      return { written: task.films.length };
    }
    case 'cover-sheet': {
      const voices = await voicesAt(task.voices);
      await writeFile(task.out, await savePdf(await coverPages(task.sheet, task.author, task.about, voices)));
      return { written: 1 };
    }
  }
}

const judgeFile = (task: Of<'judge'>): Promise<unknown> =>
  orRefused(async () => ({ judged: await judge(task.file, task.name, task.mended, task.budget) }));

/** What was expected to go wrong is an answer, with its facts. */
async function orRefused(work: () => Promise<unknown>): Promise<unknown> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Fault) return { refused: { code: error.code, facts: error.facts } };
    throw error;
  }
}

async function toPdf(task: Of<'to-pdf'>): Promise<z.infer<typeof MadePdf>> {
  const { file, out, folder, budget } = task;
  await textAsUtf8(file);
  const kind = await kindOf(file, 'part');
  if (kind.family !== 'picture') return { trouble: await documentToPdf(task, kind), partly: false };
  const picture = await readablePicture(file, kind.type, folder, budget);
  if (!picture)
    return { trouble: kind.type === 'image/heic' ? 'apple-photo' : 'not-converted', partly: false };
  const { bytes, partly } = await pictureToPdf(picture, kind.type);
  await writeFile(out, bytes);
  return { trouble: null, partly };
}

async function documentToPdf(
  { file, out, folder, budget }: Of<'to-pdf'>,
  kind: Kind,
): Promise<NoPages | null> {
  if (kind.family === 'pdf') {
    await rename(file, out);
    return null;
  }
  if (!kind.filter) return kind.trouble ?? 'unknown-kind';
  if (!mayConvert()) return 'no-converter';
  await cutOutside(file, kind.type);
  try {
    if (kind.family === 'spreadsheet') {
      const trouble = await sheetsToPdf(file, kind.filter, folder, out, budget);
      if (trouble) return trouble;
    } else await rename(await convertOffice(file, kind.filter, folder, budget), out);
  } catch (error) {
    // What takes too long in a quick look gets more time in the slow lane.
    if (error instanceof Failed && error.reason === 'broken') return 'not-converted';
    throw error;
  }
  const { out: count } = await qpdf(['--show-npages', out], budget);
  return Number.parseInt(count, 10) > FILE_LIMITS.pages ? 'too-many-pages' : null;
}

/** A spreadsheet becomes pages in two steps: the first makes it one text in which its pages can be given their size. */
async function sheetsToPdf(
  file: string,
  filter: string,
  folder: string,
  out: string,
  budget: Budget,
): Promise<NoPages | null> {
  const flat = await convertOffice(file, filter, folder, budget, { to: 'fods' });
  if ((await stat(flat)).size > MOST_FLAT_BYTES) return 'too-many-pages';
  const { text, rows } = fitSheets(await readFile(flat, 'utf8'));
  if (rows > MOST_ROWS) return 'too-many-pages';
  const fitted = join(folder, 'sheets.fods');
  await writeFile(fitted, text);
  await rename(await convertOffice(fitted, 'OpenDocument Spreadsheet Flat XML', folder, budget), out);
  return null;
}

async function read(task: Of<'read'>): Promise<unknown> {
  const bytes = new Uint8Array(await readFile(task.file));
  const pdf = await openPdf(bytes);
  const parted = partPages(pdf);
  const frames = readFrames(pdf);
  const cleaned = takeOutScripts(pdf) + parted > 0;
  const clean = cleaned ? await savePdf(pdf) : bytes;
  if (cleaned) await writeFile(task.out, clean);
  const text = await withDocument(clean, (engine, document) =>
    frames.map((frame, i) => {
      const page = readPageText(engine, document, i, frame);
      progress(i + 1, frames.length);
      return page;
    }),
  );
  await writeFile(task.text, JSON.stringify(text));
  if (task.shapes) await writeFile(task.shapes, JSON.stringify(await shapesOf(pdf, clean, frames, text)));
  const pictured = task.picture !== null && (await pictureAt(clean, task.picture));
  return { frames, cleaned, pictured };
}

/** A page that cannot be drawn has no picture, and its words are worth more than that. */
async function pictureAt(pdf: Uint8Array, to: string): Promise<boolean> {
  await writePicture(pdf, to).catch(() => {});
  return stat(to).then(
    () => true,
    () => false,
  );
}

async function marksIn(task: Of<'read-marks'>): Promise<unknown> {
  const bytes = new Uint8Array(await readFile(task.file));
  const pdf = await openPdf(bytes);
  const frames = readFrames(pdf);
  const text = await withDocument(bytes, (engine, document) =>
    frames.map((frame, i) => {
      progress(i + 1, frames.length);
      return readPageText(engine, document, i, frame);
    }),
  );
  const { bytes: named, ...found } = await readMarks(pdf, frames, text);
  for (const [digest, some] of named) await writeFile(join(task.folder, digest), some);
  return { ...found, bytes: [...named.keys()] };
}

/** Marks are appended: what the student handed in stays byte for byte. Only a name is written into pages of our own making before. */
async function annotate(task: Of<'write-marks'>): Promise<{ written: number }> {
  const bytes = new Uint8Array(await readFile(task.file));
  const named = task.name ? await withName(task.name, task.frames, bytes) : bytes;
  const what = { ...task, bytes: await bytesAt(task.bytes), voices: await voicesAt(task.voices) };
  if (task.flat) {
    const pdf = await openPdf(named);
    const flat = await (task.beside ? besideMarks : flattenMarks)(pdf, what);
    await writeFile(task.out, await savePdf(pdf));
    return { written: flat };
  }
  const into = await Appending.open(named);
  const written = await writeMarks(into, what);
  await writeFile(task.out, await into.save());
  return { written };
}

async function bytesAt(paths: Readonly<Record<string, string>>): Promise<BytesOf> {
  const read = new Map<string, Uint8Array>();
  for (const [digest, path] of Object.entries(paths)) read.set(digest, new Uint8Array(await readFile(path)));
  return (digest) => read.get(digest) ?? null;
}

async function voicesAt(kept: Of<'write-marks'>['voices']): Promise<VoicesOf> {
  const read = new Map<string, VoiceFile>();
  for (const [digest, { type, file }] of Object.entries(kept))
    read.set(digest, { type, bytes: new Uint8Array(await readFile(file)) });
  return (digest) => read.get(digest) ?? null;
}

async function withName(
  name: { readonly name: string; readonly text: string | null },
  frames: readonly PageFrame[],
  bytes: Uint8Array,
): Promise<Uint8Array> {
  const pdf = await openPdf(bytes);
  await writeNames(pdf, name.name, frames, await textIn(name.text));
  return savePdf(pdf);
}

async function textIn(path: string | null): Promise<PageText[]> {
  return path ? z.array(PageText).parse(JSON.parse(await readFile(path, 'utf8'))) : [];
}

/** In so many pages of a scan, at most, lines to write on are looked for. */
const MOST_SCANS = 60;
/** A page with fewer words than this is a scan; a stamp of the scanner’s is no text. */
const SCAN_WORDS = 4;

async function shapesOf(
  pdf: PDFDocument,
  bytes: Uint8Array,
  frames: readonly PageFrame[],
  text: readonly PageText[],
): Promise<PageShapes[]> {
  const fields = readFields(pdf, frames);
  const drawn = await withDocument(bytes, (engine, document) =>
    frames.map((frame, i) => ({ ...readShapes(engine, document, i, frame), fields: fields[i]! })),
  );
  // A scan has nothing drawn and no words: its lines are looked for in its picture.
  for (const [i, page] of drawn.entries())
    if (i < MOST_SCANS && page.rules.length + page.boxes.length === 0 && text[i]!.words.length < SCAN_WORDS)
      drawn[i] = { ...page, rules: await scannedRules(bytes, i) };
  return drawn;
}

process.on('message', (task: Task) => {
  work(task).then(
    (result) => say({ kind: 'done', result }),
    (error: unknown) =>
      say({
        kind: 'failed',
        reason: error instanceof Failed ? error.reason : 'broken',
        error: error instanceof Error ? error.message : String(error),
      }),
  );
});
process.on('disconnect', () => process.exit(0));
say({ kind: 'ready' });
