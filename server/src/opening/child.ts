import { readFile, writeFile } from 'node:fs/promises';
import type { PDFDocument } from '@cantoo/pdf-lib';
import { type PageFrame, type PageShapes, type PageText, pageSize } from '@jotmark/core';
import { Appending } from '../pdf/append.ts';
import { takeOutScripts } from '../pdf/clean.ts';
import { withDocument } from '../pdf/engine.ts';
import { fillSheet } from '../pdf/fill.ts';
import { flattenMarks } from '../pdf/flat.ts';
import { readFrames } from '../pdf/frames.ts';
import { writeNames } from '../pdf/name.ts';
import { openPdf, savePdf } from '../pdf/pdf.ts';
import { pictureToPdf } from '../pdf/picture.ts';
import { readMarks } from '../pdf/read-marks.ts';
import { readFields, readShapes } from '../pdf/shapes.ts';
import { writePicture } from '../pdf/small-picture.ts';
import { readPageText } from '../pdf/text.ts';
import { writeMarks } from '../pdf/write-marks.ts';
import type { Answer, Task } from './task.ts';

/** The process in which uploaded bytes are opened. Whoever started it may kill it at any moment. */
const say = (answer: Answer) => process.send?.(answer);

async function work(task: Task): Promise<unknown> {
  if (task.op === 'picture') {
    await writeFile(task.out, await pictureToPdf(task.file));
    return { pages: 1 };
  }
  const bytes = new Uint8Array(await readFile(task.file));
  if (task.op === 'write-marks') return annotate(task, bytes);
  const pdf = await openPdf(bytes);
  switch (task.op) {
    case 'look': {
      const frames = readFrames(pdf);
      return { pages: frames.length, longestSide: Math.max(0, ...frames.flatMap((f) => [...pageSize(f)])) };
    }
    case 'read': {
      const frames = readFrames(pdf);
      const cleaned = takeOutScripts(pdf) > 0;
      const clean = cleaned ? await savePdf(pdf) : bytes;
      if (cleaned) await writeFile(task.out, clean);
      const text = await withDocument(clean, (engine, document) =>
        frames.map((frame, i) => {
          const page = readPageText(engine, document, i, frame);
          say({ kind: 'progress', done: i + 1, total: frames.length });
          return page;
        }),
      );
      await writePicture(clean, task.picture);
      return { frames, text, cleaned, shapes: task.shapes ? await shapesOf(pdf, clean, frames) : null };
    }
    case 'read-marks': {
      const frames = readFrames(pdf);
      const text = await withDocument(bytes, (engine, document) =>
        frames.map((frame, i) => readPageText(engine, document, i, frame)),
      );
      return readMarks(pdf, frames, text);
    }
    case 'fill': {
      await fillSheet(pdf, task);
      await writeFile(task.out, await savePdf(pdf));
      return { pages: pdf.getPageCount() };
    }
  }
}

/** Marks are appended: what the student handed in stays byte for byte. Only a name is written into pages of our own making before. */
async function annotate(
  task: Extract<Task, { op: 'write-marks' }>,
  bytes: Uint8Array,
): Promise<{ written: number }> {
  const named = task.name ? await withName(task.name, task.frames, bytes) : bytes;
  if (task.flat) {
    const pdf = await openPdf(named);
    const flat = await flattenMarks(pdf, task);
    await writeFile(task.out, await savePdf(pdf));
    return { written: flat };
  }
  const into = await Appending.open(named);
  const written = await writeMarks(into, task);
  await writeFile(task.out, await into.save());
  return { written };
}

async function withName(
  name: { readonly name: string; readonly text: readonly PageText[] },
  frames: readonly PageFrame[],
  bytes: Uint8Array,
): Promise<Uint8Array> {
  const pdf = await openPdf(bytes);
  await writeNames(pdf, name.name, frames, name.text);
  return savePdf(pdf);
}

async function shapesOf(
  pdf: PDFDocument,
  bytes: Uint8Array,
  frames: readonly PageFrame[],
): Promise<PageShapes[]> {
  const fields = readFields(pdf, frames);
  return withDocument(bytes, (engine, document) =>
    frames.map((frame, i) => ({ ...readShapes(engine, document, i, frame), fields: fields[i]! })),
  );
}

process.on('message', (task: Task) => {
  work(task).then(
    (result) => say({ kind: 'done', result }),
    (error: unknown) =>
      say({ kind: 'failed', error: error instanceof Error ? error.message : String(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
