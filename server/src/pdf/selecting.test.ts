import { readFileSync } from 'node:fs';
import { StandardFonts } from '@cantoo/pdf-lib';
import {
  bandsOver,
  findWords,
  makeId,
  type PageText,
  type Point,
  type Question,
  type QuestionId,
  quoteOf,
  wordAt,
  wordsBetween,
} from '@jotmark/core';
import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { type MadeElsewhere, makeElsewhere } from '../testing/made-elsewhere.ts';
import { withDocument } from './engine.ts';
import { fillSheet } from './fill.ts';
import { readFrames } from './frames.ts';
import { openPdf, savePdf } from './pdf.ts';
import { readPageText } from './text.ts';

async function textOf(bytes: Uint8Array): Promise<PageText[]> {
  const frames = readFrames(await openPdf(bytes));
  return withDocument(bytes, (engine, document) =>
    frames.map((f, i) => readPageText(engine, document, i, f)),
  );
}

const middle = (text: PageText, word: number): Point => {
  const [l, t, r, b] = text.words[word]!.box;
  return [(l + r) / 2, (t + b) / 2];
};
const said = (text: PageText, range: { from: number; to: number }) =>
  text.words
    .slice(range.from, range.to + 1)
    .map((w) => w.text)
    .join(' ');

describe('on pages made elsewhere', () => {
  let made: MadeElsewhere;
  beforeAll(async () => {
    made = await makeElsewhere(new URL('../../../.test/elsewhere', import.meta.url).pathname);
  }, 120_000);

  test.each(['written', 'printed', 'drawn', 'turned', 'shifted', 'packed'] as const)(
    '%s: a drag from any word to any other takes them and what is read between',
    async (name) => {
      for (const text of await textOf(new Uint8Array(readFileSync(made[name])))) {
        if (text.words.length === 0) continue;
        fc.assert(
          fc.property(fc.nat(), fc.nat(), (n, m) => {
            const [a, b] = [n % text.words.length, m % text.words.length];
            expect(wordAt(text, middle(text, a))).toBe(a);
            const range = wordsBetween(text, middle(text, a), middle(text, b))!;
            expect(range).toEqual({ from: Math.min(a, b), to: Math.max(a, b) });
            expect(quoteOf(text, range).exact).toBe(said(text, range));
          }),
          { numRuns: 300 },
        );
      }
    },
  );

  test.each(['written', 'printed'] as const)(
    '%s: a drag that ends in the white right of its line ends with that line',
    async (name) => {
      const [text] = await textOf(new Uint8Array(readFileSync(made[name])));
      for (const line of text!.lines.filter((l) => l.along === 'x')) {
        const y = (line.box[1] + line.box[3]) / 2;
        const beside = text!.lines.some((l) => l !== line && l.box[1] < y && l.box[3] > y);
        if (beside) continue;
        expect(wordsBetween(text!, middle(text!, line.from), [line.box[2] + 40, y])).toEqual({
          from: line.from,
          to: line.to - 1,
        });
      }
    },
  );
});

describe('on a sheet with blanks of underscores', () => {
  const question = (n: number, top: number): Question => ({
    id: makeId(n, new Uint8Array(10).fill(n)) as QuestionId,
    page: 0,
    box: [70, top, 400, top + 20],
    part: false,
    label: null,
    points: null,
    answer: { kind: 'line' },
  });
  const questions = [question(1, 150), question(2, 210)];
  let text: PageText;
  beforeAll(async () => {
    const { PDFDocument } = await import('@cantoo/pdf-lib');
    const pdf = await PDFDocument.create();
    const font = await pdf.embedFont(StandardFonts.Helvetica);
    const page = pdf.addPage([595, 842]);
    const write = (words: string, top: number) =>
      page.drawText(words, { x: 70, y: 842 - top, size: 11, font });
    write('1. What does the rider call the horse?', 140);
    write('_____________________________________________', 166);
    write('2. Where does it stand?', 200);
    write('_____________________________________________', 226);
    const clean = await openPdf(await savePdf(pdf));
    const frames = readFrames(clean);
    const before = await textOf(await savePdf(pdf));
    await fillSheet(clean, {
      questions,
      answers: { [questions[0]!.id]: 'Orse, of all names', [questions[1]!.id]: 'behind the barn' },
      texts: {},
      pictures: {},
      marks: [],
      frames,
      text: before,
    });
    [text] = (await textOf(await savePdf(clean))) as [PageText];
  });
  const at = (word: string) => text.words.findIndex((w) => w.text === word);

  test('a drag over the typed answer takes the answer, as find does', () => {
    for (const answer of ['Orse, of all names', 'behind the barn']) {
      const [first, last] = [answer.split(' ')[0]!, answer.split(' ').at(-1)!];
      const range = wordsBetween(text, middle(text, at(first)), middle(text, at(last)))!;
      expect(said(text, range)).toBe(answer);
      expect(findWords(text, answer)).toEqual([range]);
      expect(quoteOf(text, range).exact).not.toContain('_');
    }
  });

  test('the answer is read at its question: from the one into the other nothing else is taken', () => {
    const range = wordsBetween(text, middle(text, at('horse?')), middle(text, at('names')))!;
    expect(said(text, range)).toBe('horse? Orse, of all names');
    expect(text.words.filter((w) => w.text.includes('_'))).toEqual([]);
  });

  test('wherever within the answer one begins and ends', () => {
    const [from, to] = [at('Orse,'), at('names')];
    const [l, t, , b] = text.words[from]!.box;
    const [, , r] = text.words[to]!.box;
    fc.assert(
      fc.property(
        fc.double({ min: l, max: r, noNaN: true }),
        fc.double({ min: l, max: r, noNaN: true }),
        fc.double({ min: t + 1, max: b - 1, noNaN: true }),
        (x0, x1, y) => {
          const range = wordsBetween(text, [x0, y], [x1, y])!;
          expect(range.from).toBeGreaterThanOrEqual(from);
          expect(range.to).toBeLessThanOrEqual(to);
          expect(bandsOver(text, range)).toHaveLength(1);
        },
      ),
    );
  });
});
