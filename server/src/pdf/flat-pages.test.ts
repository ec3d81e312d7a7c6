import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDict, PDFDocument, PDFName, StandardFonts } from '@cantoo/pdf-lib';
import { type DocumentId, type Mark, type MarkId, makeId } from '@jotmark/core';
import sharp from 'sharp';
import { expect, test } from 'vitest';
import { flattenMarks } from './flat.ts';
import { readFrames } from './frames.ts';
import { openPdf, savePdf } from './pdf.ts';

const folder = mkdtempSync(join(tmpdir(), 'jotmark-test-'));
const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;

/** Three pages that name one dictionary of resources, as converters write them. */
async function sharing(): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const font = await pdf.embedFont(StandardFonts.Helvetica);
  const pages = [0, 1, 2].map((n) => {
    const page = pdf.addPage([595, 842]);
    if (n === 0) page.drawText('The first page', { x: 72, y: 760, size: 12, font });
    return page;
  });
  const fonts = pages[0]!.node.Resources()!.lookup(PDFName.of('Font'), PDFDict);
  const one = pdf.context.register(pdf.context.obj({ Font: fonts }));
  for (const page of pages) page.node.set(PDFName.of('Resources'), one);
  return pdf.save();
}

/** The same from an office program: a text of three pages. */
function converted(): Uint8Array {
  const text = join(folder, 'three.txt');
  writeFileSync(
    text,
    Array.from({ length: 130 }, (_, i) => `Line ${i + 1} of a long text about owls.`).join('\n'),
  );
  const profile = `-env:UserInstallation=file://${join(folder, 'profile')}`;
  execFileSync('soffice', [profile, '--headless', '--convert-to', 'pdf', '--outdir', folder, text], {
    stdio: 'pipe',
    timeout: 120_000,
  });
  return new Uint8Array(readFileSync(join(folder, 'three.pdf')));
}

/** Where the stroke of each page goes: no two lie in one place. */
const strokeAt = (page: number): readonly [x: number, y: number] => [120 + 130 * page, 400 + 60 * page];

/** How many pixels of a page’s picture are the pen’s red, round each of the three places. */
async function redAt(file: string, page: number): Promise<number[]> {
  const png = execFileSync(
    'pdftoppm',
    ['-r', '72', '-png', '-singlefile', '-f', String(page), '-l', String(page), file],
    {
      maxBuffer: 1 << 26,
    },
  );
  return Promise.all(
    [0, 1, 2].map(async (n) => {
      const [x, y] = strokeAt(n);
      const { data } = await sharp(png)
        .extract({ left: x - 5, top: y - 8, width: 70, height: 16 })
        .removeAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true });
      let red = 0;
      for (let i = 0; i < data.length; i += 3)
        if (data[i]! > 130 && data[i + 1]! < 110 && data[i + 2]! < 120) red++;
      return red;
    }),
  );
}

test('printed, each page has its own marks and no other’s, in files of two makers whose pages share their resources', async () => {
  for (const [maker, bytes] of [
    ['sharing', await sharing()],
    ['office', converted()],
  ] as const) {
    const pdf = await openPdf(bytes);
    const frames = readFrames(pdf);
    expect(frames.length, maker).toBeGreaterThanOrEqual(3);
    const marks = [0, 1, 2].map((page) => {
      const [x, y] = strokeAt(page);
      return {
        v: 2,
        id: id<MarkId>(page + 1),
        document: id<DocumentId>(9),
        page,
        kind: 'ink',
        colour: 'garnet',
        focus: null,
        madeAt: 1,
        width: 6,
        points: [0, 20, 40, 60].flatMap((dx) => [(x + dx) * 100, y * 100, 200]),
      } as unknown as Mark;
    });
    await flattenMarks(pdf, { marks, frames, turns: {}, document: null, author: 'x', bytes: () => null });
    const file = join(folder, `${maker}.pdf`);
    writeFileSync(file, await savePdf(pdf));
    execFileSync('qpdf', ['--check', file], { stdio: 'pipe' });
    for (const page of [0, 1, 2]) {
      const red = await redAt(file, page + 1);
      for (const n of [0, 1, 2])
        expect(
          red[n]! > 60,
          `${maker}, page ${page + 1}, the stroke of page ${n + 1}: ${red[n]} pixels`,
        ).toBe(n === page);
    }
  }
});
