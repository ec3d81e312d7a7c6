import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DocumentId, Mark, MarkId, PageFrame, Question, QuestionId } from '@jotmark/core';
import { makeId } from '@jotmark/core';
import { expect, test } from 'vitest';
import { plainPdf } from '../testing/pdfs.ts';
import { fillSheet } from './fill.ts';
import { flattenMarks } from './flat.ts';
import { outlineOf } from './formula.ts';
import { readFrames } from './frames.ts';
import { openPdf, savePdf } from './pdf.ts';

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;

/** What poppler makes of a page: its words, and how many dark pixels lie in a box of it. */
function seen(bytes: Uint8Array, page: number) {
  const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'out.pdf');
  writeFileSync(file, bytes);
  expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain('No syntax or stream');
  const only = ['-f', String(page), '-l', String(page)];
  const ppm = execFileSync('pdftoppm', ['-r', '72', ...only, '-singlefile', '-gray', file], {
    maxBuffer: 1 << 26,
  });
  const [, w, h] = /^P5\s+(\d+)\s+(\d+)\s+255\s/
    .exec(ppm.subarray(0, 40).toString('latin1'))!
    .map(Number) as [number, number, number];
  const pixels = ppm.subarray(ppm.length - w * h);
  return {
    words: execFileSync('pdftotext', ['-layout', ...only, file, '-'], { encoding: 'utf8' }),
    dark: ([l, t, r, b]: readonly [number, number, number, number]) => {
      let n = 0;
      for (let y = t; y < b; y++) for (let x = l; x < r; x++) if (pixels[y * w + x]! < 160) n++;
      return n;
    },
  };
}

test('outlines of the formulas’ font as PDF has them: a curve of one corner is one of two, a T mirrors the corner before it', () => {
  expect(outlineOf('M0 0Q30 60 60 0T120 0H10v-5Z').split('\n')).toEqual([
    '0 0 m',
    '20 40 40 40 60 0 c',
    '80 -40 100 -40 120 0 c',
    '10 0 l',
    '10 -5 l',
    'h',
  ]);
});

const QUESTION: Question = {
  id: id<QuestionId>(1),
  label: null,
  page: 0,
  box: [100, 300, 400, 340],
  points: null,
  answer: { kind: 'paragraph', lines: null },
} as unknown as Question;

test('a typed answer’s formula is drawn on the page, and what was typed is found and read there', async () => {
  const fill = async (answer: string) => {
    const pdf = await openPdf(await plainPdf());
    const frames: PageFrame[] = readFrames(pdf);
    await fillSheet(pdf, {
      questions: [QUESTION],
      answers: { [QUESTION.id]: answer },
      texts: {},
      pictures: {},
      marks: [],
      frames,
      text: [],
    });
    return seen(await savePdf(pdf), 1);
  };
  const formed = await fill('It is $\\frac{1}{2}$ of it');
  expect(formed.words.replace(/\s+/g, ' ')).toContain('It is $\\frac{1}{2}$ of it');
  const typed = await fill('It is \\frac{1}{2} of it');
  const box = [100, 295, 400, 345] as const;
  expect(formed.dark(box)).toBeGreaterThan(20);
  // Two digits and a line are less ink than what stands for them.
  expect(formed.dark(box)).toBeLessThan(typed.dark(box) * 0.9);
});

test('page text and notes are printed with their form: bold is darker, lists stand in, formulas are drawn', async () => {
  const base = {
    v: 2,
    document: id<DocumentId>(5),
    page: 0,
    colour: 'graphite',
    focus: null,
    madeAt: 1,
  } as const;
  const print = async (words: string) => {
    const pdf = await openPdf(await plainPdf());
    const frames = readFrames(pdf);
    const marks = [
      { ...base, id: id<MarkId>(1), kind: 'text', x: 100, y: 300, w: 200, h: 60, size: 16, turn: 0, words },
      { ...base, id: id<MarkId>(2), kind: 'note', place: { on: 'spot', x: 50, y: 50 }, words },
    ] as unknown as Mark[];
    await flattenMarks(pdf, { marks, frames, turns: {}, document: null, author: 'x', bytes: () => null });
    return savePdf(pdf);
  };
  const box = [100, 300, 320, 420] as const;
  const plain = seen(await print('one two\ndone'), 1).dark(box);
  expect(seen(await print('**one two**\n**done**'), 1).dark(box)).toBeGreaterThan(plain * 1.1);
  const bytes = await print('- one $x^2$\n- two');
  const behind = seen(bytes, 2);
  expect(behind.words).toMatch(/•\s*one\s+\$x\^2\$\s*•\s*two/);
  expect(seen(bytes, 1).dark(box)).toBeGreaterThan(30);
});
