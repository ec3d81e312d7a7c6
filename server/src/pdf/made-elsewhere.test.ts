import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  bandsOver,
  boxToScreen,
  findQuote,
  type InkColour,
  type PageFrame,
  type PageText,
} from '@jotmark/core';
import { beforeAll, describe, expect, test } from 'vitest';
import { marksOn, viewOf } from '../testing/every-kind.ts';
import { type MadeElsewhere, makeElsewhere, SENTENCE } from '../testing/made-elsewhere.ts';
import { Appending } from './append.ts';
import { withDocument } from './engine.ts';
import { readFrames } from './frames.ts';
import { openPdf } from './pdf.ts';
import { readPageText } from './text.ts';
import { writeMarks } from './write-marks.ts';

const noBytes = () => null;

let made: MadeElsewhere;
beforeAll(async () => {
  made = await makeElsewhere(new URL('../../../.test/elsewhere', import.meta.url).pathname);
}, 120_000);

const bytesOf = (file: string) => new Uint8Array(readFileSync(file));

async function read(bytes: Uint8Array): Promise<{ frames: PageFrame[]; text: PageText[] }> {
  const frames = readFrames(await openPdf(bytes));
  const text = await withDocument(bytes, (engine, document) =>
    frames.map((f, i) => readPageText(engine, document, i, f)),
  );
  return { frames, text };
}

/** What poppler says: words and their boxes on the page as it is shown. */
function popplerWords(file: string): { text: string; box: number[] }[] {
  const html = execFileSync('pdftotext', ['-bbox', '-cropbox', '-f', '1', '-l', '1', file, '-'], {
    encoding: 'utf8',
  });
  return [
    ...html.matchAll(/<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(.*?)<\/word>/g),
  ].map((m) => ({
    text: m[5]!,
    box: m.slice(1, 5).map(Number),
  }));
}

/** poppler's picture of the first page, a pixel a point. */
function picture(file: string): {
  width: number;
  height: number;
  at(x: number, y: number): readonly [number, number, number];
} {
  const ppm = execFileSync('pdftoppm', ['-r', '72', '-cropbox', '-f', '1', '-singlefile', file], {
    maxBuffer: 1 << 26,
  });
  const [head, width, height] = /^P6\s(\d+) (\d+)\s255\s/.exec(ppm.subarray(0, 40).toString('latin1'))!;
  const data = ppm.subarray(head!.length);
  return {
    width: Number(width),
    height: Number(height),
    at: (x, y) => {
      const i = (Math.round(y) * Number(width) + Math.round(x)) * 3;
      return [data[i]!, data[i + 1]!, data[i + 2]!];
    },
  };
}

const withText = ['written', 'printed', 'drawn', 'shifted', 'turned', 'packed'] as const;

describe('the text layer of PDFs that other programs made', () => {
  test.each(withText)('%s: words and their places are the ones poppler sees', async (name) => {
    const { frames, text } = await read(bytesOf(made[name]));
    const theirs = popplerWords(made[name]);
    expect(text[0]!.words.map((w) => w.text)).toEqual(theirs.map((w) => w.text));
    text[0]!.words.forEach((word, i) => {
      const shown = boxToScreen(viewOf(frames[0]!), word.box);
      const box = theirs[i]!.box;
      for (const side of [0, 2] as const)
        expect(Math.abs(shown[side] - box[side]!), `${word.text}, side ${side}`).toBeLessThan(2.5);
      expect(Math.abs((shown[1] + shown[3]) / 2 - (box[1]! + box[3]!) / 2), word.text).toBeLessThan(4);
    });
  });

  test.each(withText)('%s: the sentence is one line, found by its words', async (name) => {
    const { text } = await read(bytesOf(made[name]));
    const found = findQuote(text[0]!, { exact: SENTENCE, prefix: '', suffix: '', start: 0, end: 0 });
    expect(found.ok).toBe(true);
    if (found.ok) expect(bandsOver(text[0]!, found.range)).toHaveLength(1);
  });

  test('a turned page has lines that run along y', async () => {
    const { text } = await read(bytesOf(made.turned));
    // Turned by its Rotate alone, the page itself still reads along x in its own space.
    expect(new Set(text[0]!.lines.map((l) => l.along))).toEqual(new Set(['x']));
  });

  test('a scan has no words', async () => {
    expect((await read(bytesOf(made.scan))).text[0]).toEqual({ words: [], lines: [] });
  });
});

/** Which ink a pixel shows: by the order of its channels, since highlights let the paper through. */
function looksLike([r, g, b]: readonly [number, number, number], colour: InkColour): boolean {
  switch (colour) {
    case 'garnet':
      return r > g + 60 && r > b + 40;
    case 'amber':
      return r > b + 60 && g > b + 40;
    case 'moss':
      return g > r && g > b && r < 240;
    case 'plum':
      return b > g + 40 && r > g + 30;
    case 'lake':
      return b > r + 60;
    case 'graphite':
    case 'straw':
      throw new Error(`${colour} is no ink of a teacher's`);
  }
}

describe('the marked copy as PDF', () => {
  test.each([...withText, 'scan'] as const)(
    '%s: qpdf finds no fault and poppler shows every mark in its place',
    async (name) => {
      const bytes = bytesOf(made[name]);
      const { frames, text } = await read(bytes);
      const { marks, seen } = marksOn(frames[0]!, text[0]!);
      const pdf = await Appending.open(bytes);
      expect(
        await writeMarks(pdf, {
          marks,
          frames,
          turns: {},
          document: null,
          author: 'Maren Quillfeather',
          bytes: noBytes,
        }),
      ).toBe(marks.length);
      const out = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'marked.pdf');
      const saved = await pdf.save();
      writeFileSync(out, saved);
      expect(Buffer.from(saved.subarray(0, bytes.length)).equals(bytes), 'what came is kept').toBe(true);
      expect(execFileSync('qpdf', ['--check', out], { encoding: 'utf8' })).toContain(
        'No syntax or stream encoding errors',
      );
      const before = picture(made[name]);
      const after = picture(out);
      expect([after.width, after.height]).toEqual([before.width, before.height]);
      for (const { at, colour } of seen) {
        expect(looksLike(after.at(...at), colour), `${colour} at ${at}: ${after.at(...at)}`).toBe(true);
        expect(looksLike(before.at(...at), colour), `${colour} before`).toBe(false);
      }
    },
  );

  test('annotations carry author, date, words, focus and the mark’s own id', async () => {
    const bytes = bytesOf(made.written);
    const { frames, text } = await read(bytes);
    const { marks } = marksOn(frames[0]!, text[0]!);
    const pdf = await Appending.open(bytes);
    await writeMarks(pdf, {
      marks: marks.map((m) => ({ ...m, focus: 'method' })),
      frames,
      turns: {},
      document: null,
      author: 'Maren Quillfeather',
      bytes: noBytes,
    });
    const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'marked.pdf');
    writeFileSync(file, await pdf.save());
    // A second reader: pdfium is ours, qpdf is not.
    const json = JSON.parse(
      execFileSync('qpdf', ['--json', '--json-key=qpdf', file], { encoding: 'utf8', maxBuffer: 1 << 26 }),
    );
    const objects = Object.values(json.qpdf[1] as Record<string, { value?: Record<string, string> }>)
      .map((o) => o.value)
      .filter((v) => v?.['/Type'] === '/Annot');
    expect(objects.map((o) => o!['/Subtype']).sort()).toEqual([
      '/Caret',
      '/Caret',
      '/Circle',
      '/FreeText',
      '/Highlight',
      '/Ink',
      '/Ink',
      '/Line',
      '/Line',
      '/Square',
      '/Stamp',
      '/Stamp',
      '/StrikeOut',
      '/StrikeOut',
      '/Text',
    ]);
    const swapped = objects.find((o) => o!['/RT'] === '/Group')!;
    expect(swapped['/Subtype']).toBe('/StrikeOut');
    expect(swapped['/IRT']).toMatch(/^\d+ 0 R$/);
    expect(swapped['/NM']).toBe(`u:${marks.find((m) => m.kind === 'swap')!.id}-struck`);
    for (const o of objects.filter((each) => each !== swapped)) {
      expect(o!['/T']).toBe('u:Maren Quillfeather');
      expect(o!['/Subj']).toBe('u:method');
      expect(o!['/M']).toBe('u:D:20261125000000Z');
      expect(marks.map((m) => `u:${m.id}`)).toContain(o!['/NM']);
      expect(o!['/AP']).toBeDefined();
    }
    expect(objects.find((o) => o!['/Subtype'] === '/Text')!['/Contents']).toBe('u:Grüße – 高い hill');
  });

  test('a page the teacher turned is turned in the file, and the marks with it', async () => {
    const bytes = bytesOf(made.drawn);
    const { frames, text } = await read(bytes);
    const { marks } = marksOn(frames[0]!, text[0]!);
    const pdf = await Appending.open(bytes);
    await writeMarks(pdf, { marks, frames, turns: { 0: 90 }, document: null, author: 'x', bytes: noBytes });
    const out = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'turned.pdf');
    writeFileSync(out, await pdf.save());
    const shown = picture(out);
    expect(shown.width).toBeGreaterThan(shown.height);
    // 0.3 across and 0.8 down becomes, a quarter turn clockwise, 0.2 across and 0.3 down.
    expect(looksLike(shown.at(shown.width * 0.2, shown.height * 0.3), 'garnet')).toBe(true);
    // And the disc of a note, 0.3 across and 0.9 down.
    expect(looksLike(shown.at(shown.width * 0.1, shown.height * 0.3), 'plum')).toBe(true);
  });
});
