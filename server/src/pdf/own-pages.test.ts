import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument, PDFName, PDFPageTree, type PDFRef } from '@cantoo/pdf-lib';
import type { DocumentId, Mark } from '@jotmark/core';
import { afterAll, describe, expect, test } from 'vitest';
import { Opener } from '../opening/opener.ts';
import { id, note } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';
import { Appending } from './append.ts';
import { flattenMarks } from './flat.ts';
import { readFrames } from './frames.ts';
import { partPages } from './own-pages.ts';
import { openPdf } from './pdf.ts';
import { writeMarks } from './write-marks.ts';

const folder = mkdtempSync(join(tmpdir(), 'jotmark-test-'));
const opener = new Opener();
afterAll(() => opener.close());

/** One page that the file shows as its first, third and fourth; `below`: in a part of the tree that stands there twice. */
async function twice(below: boolean): Promise<Uint8Array> {
  const pdf = await PDFDocument.load(await plainPdf(['The same words'], 2));
  const tree = pdf.catalog.Pages();
  const [first, second] = tree.Kids().asArray() as [PDFRef, PDFRef];
  const root = pdf.catalog.get(PDFName.of('Pages')) as PDFRef;
  if (below) {
    const part = pdf.context.nextRef();
    const node = PDFPageTree.fromMapWithContext(new Map(), pdf.context);
    node.set(PDFName.of('Type'), PDFName.of('Pages'));
    node.set(PDFName.of('Parent'), root);
    node.set(PDFName.of('Kids'), pdf.context.obj([first]));
    node.set(PDFName.of('Count'), pdf.context.obj(1));
    // What it hands down must not be lost on the way.
    node.set(PDFName.of('MediaBox'), pdf.context.obj([0, 0, 500, 800]));
    pdf.context.assign(part, node);
    const leaf = pdf.getPages()[0]!.node;
    leaf.delete(PDFName.of('MediaBox'));
    leaf.set(PDFName.of('Parent'), part);
    tree.set(PDFName.of('Kids'), pdf.context.obj([part, second, part, part]));
  } else tree.set(PDFName.of('Kids'), pdf.context.obj([first, second, first, first]));
  tree.set(PDFName.of('Count'), pdf.context.obj(4));
  return pdf.save();
}

/** Whether poppler shows something red on each page. */
function red(file: string): boolean[] {
  return [1, 2, 3, 4].map((n) => {
    const ppm = execFileSync('pdftoppm', ['-r', '36', '-f', `${n}`, '-l', `${n}`, '-singlefile', file], {
      maxBuffer: 1 << 26,
    });
    const [head] = /^P6\s\d+ \d+\s255\s/.exec(ppm.subarray(0, 40).toString('latin1'))!;
    for (let i = head.length; i + 2 < ppm.length; i += 3) if (ppm[i]! > ppm[i + 1]! + 60) return true;
    return false;
  });
}

describe.each([
  ['a page', false],
  ['a part of the tree', true],
])('%s that stands in a file more than once', (_, below) => {
  test('becomes pages with marks of their own, as annotations and printed', async () => {
    const came = join(folder, `came-${below}.pdf`);
    writeFileSync(came, await twice(below));
    const file = join(folder, `read-${below}.pdf`);
    const read = await opener.run({
      op: 'read',
      file: came,
      out: file,
      picture: join(folder, 'picture.jpg'),
      text: join(folder, 'text.json'),
      shapes: null,
    });
    expect(read).toMatchObject({ cleaned: true });
    expect((read as { frames: unknown[] }).frames).toHaveLength(4);
    expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain('No syntax or stream');
    expect(
      execFileSync('pdftotext', [file, '-'], { encoding: 'utf8' }).match(/The same words/g),
    ).toHaveLength(4);
    const bytes = new Uint8Array(readFileSync(file));
    const frames = readFrames(await openPdf(bytes));
    if (below) expect(frames.map((f) => f.crop[2])).toEqual([500, 595, 500, 500]);
    const document = id<DocumentId>();
    const marks: Mark[] = [note(document, 'Here', { page: 2 })];
    const what = { marks, frames, turns: {}, document, author: 'x', bytes: () => null };
    const into = await Appending.open(bytes);
    await writeMarks(into, what);
    const marked = join(folder, 'marked.pdf');
    writeFileSync(marked, await into.save());
    expect(red(marked)).toEqual([false, false, true, false]);
    const printed = await openPdf(bytes);
    await flattenMarks(printed, what);
    writeFileSync(marked, await printed.save());
    expect(red(marked)).toEqual([false, false, true, false]);
  });
});

test('a file whose pages are each their own stays as it is', async () => {
  expect(partPages(await openPdf(await plainPdf(['words'], 3)))).toBe(0);
});
