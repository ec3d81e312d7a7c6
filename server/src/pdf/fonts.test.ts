import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';
import type { PageFrame, Question } from '@jotmark/core';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { FILL_NOTHING, fillSheet } from './fill.ts';
import { Fonts } from './fonts.ts';
import { measureIn, writeText } from './write-text.ts';

const FRAME: PageFrame = { crop: [0, 0, 595, 842], rotate: 0, userUnit: 1 };

/** Rows written into a page, as another reader finds their words and draws them. */
async function written(rows: readonly string[], hand: 'print' | 'hand' = 'print') {
  const pdf = await PDFDocument.create();
  const page = pdf.addPage([595, 842]);
  const fonts = await Fonts.for(pdf, rows, hand);
  for (const [i, row] of rows.entries()) writeText(page, FRAME, { fonts }, row, 40, 60 + i * 30, 16);
  return { ...drawnBy(await pdf.save()), fonts };
}

function drawnBy(bytes: Uint8Array) {
  const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'rows.pdf');
  writeFileSync(file, bytes);
  execFileSync('qpdf', ['--check', file], { stdio: 'pipe' });
  const words = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
  const png = execFileSync('pdftoppm', ['-r', '72', '-png', '-singlefile', file], { maxBuffer: 1 << 26 });
  return { words, png, size: bytes.length };
}

/** How far a row reaches to left and right, in points, as it is drawn. */
async function reach(png: Buffer, row: number): Promise<[left: number, right: number]> {
  const strip = sharp(png).extract({ left: 0, top: 60 + row * 30 - 20, width: 595, height: 28 });
  const { data, info } = await strip.greyscale().raw().toBuffer({ resolveWithObject: true });
  const dark = [...data.keys()].filter((i) => data[i]! < 160).map((i) => i % info.width);
  return [Math.min(...dark), Math.max(...dark)];
}

describe('letters in PDFs', () => {
  it('what pupils type in maths, in science and for fun is written as it is, and never as a question mark', async () => {
    const rows = [
      'a → b ≠ c ≥ d ≤ e √2 π ½ ⅓ ∈ ∉ ∞ ± × ÷ ≈ ∠ABC ⊥ ∥ Δ ∑ ∫',
      '5 ℃ µm Å H₂O x² 10⁻³ ⇌ ⟶ ℝ ℕ ∀ ∃ ☐ ☑ ✓ ✗ ★ ♩ ♪ ♭ ♯',
      'Größe, naïve, łódź, čeština, İstanbul, Việt, Ωμέγα, Привет',
      '😀 👍 🎉',
    ];
    const { words } = await written(rows);
    expect(words).not.toMatch(/[?□]/);
    for (const sign of [
      '→',
      '≠',
      '≥',
      '√',
      'π',
      '½',
      '∉',
      '⇌',
      'ℝ',
      '☑',
      '♭',
      'Größe',
      'İstanbul',
      'Việt',
      '😀',
      '👍',
    ])
      expect(words).toContain(sign);
  });

  it('every script that a class may write in has its letters, in print and in the teacher’s hand', async () => {
    const rows = [
      '我喜欢读书。好',
      'これはペンです',
      '나는 학교에 간다',
      'ฉันชอบอ่านหนังสือ',
      'हिन्दी में लिखना',
      'தமிழ் எழுத்து',
      'বাংলা লেখা',
      'ਪੰਜਾਬੀ',
      'ქართული ენა',
      'Հայերեն',
      'አማርኛ',
      'ខ្មែរ',
    ];
    for (const hand of ['print', 'hand'] as const) {
      const { words, png } = await written(rows, hand);
      expect(words).not.toMatch(/[?□]/);
      for (const whole of ['我喜欢读书', 'これはペンです', '학교에', 'ქართული', 'Հայերեն', 'አማርኛ'])
        expect(words).toContain(whole);
      for (const i of rows.keys()) expect((await reach(png, i))[1]).toBeGreaterThan(50);
    }
  });

  it('what runs from right to left stands so: the first letter at the right, Latin words and numbers among it as they are', async () => {
    const rows = ['שלום עולם', 'العربية لغة جميلة', 'כתבתי 25 מילים (ABC)'];
    const { words, png } = await written(rows);
    expect(words).not.toMatch(/[?□]/);
    // Another reader turns it back into the order in which it was typed.
    for (const word of ['שלום', 'עולם', '25', 'ABC']) expect(words).toContain(word);
    expect(words.normalize('NFKC')).toContain('جميلة');
    // As it is drawn: the long word of the second row, typed first, stands at the right.
    const boxes = await written(['שלום', 'שלום 123456789']);
    const [, alone] = await reach(boxes.png, 0);
    const [left, right] = await reach(boxes.png, 1);
    expect(right - left).toBeGreaterThan(alone - 40 + 60);
    expect((await reach(png, 2))[1]).toBeGreaterThan(100);
  });

  it('a row is as wide as it is drawn, also where letters are joined', async () => {
    const rows = ['العربية لغة جميلة', 'हिन्दी में लिखना', 'plain words', '我喜欢读书'];
    const { png, fonts } = await written(rows);
    for (const [i, row] of rows.entries()) {
      const [left, right] = await reach(png, i);
      const wide = measureIn(fonts)(row, 16);
      expect(Math.abs(right - left - wide)).toBeLessThan(6);
    }
  });

  it('only the letters that are used go into the file', async () => {
    expect((await written(['plain'])).size).toBeLessThan(20_000);
    expect((await written(['我喜欢读书 😀 ≠'])).size).toBeLessThan(120_000);
  });

  it('a typed answer that reads from right to left begins at the right of its place', async () => {
    const pdf = await PDFDocument.create();
    pdf.addPage([595, 842]);
    const question = {
      id: 'q',
      page: 0,
      label: '',
      box: [100, 40, 500, 70],
      answer: { kind: 'line' },
    } as unknown as Question;
    await fillSheet(pdf, {
      ...FILL_NOTHING,
      questions: [question],
      answers: { [question.id]: 'שלום 25' },
      frames: [FRAME],
      text: [],
    });
    const [left, right] = await reach(drawnBy(await pdf.save()).png, 0);
    expect(right).toBeGreaterThan(485);
    expect(left).toBeGreaterThan(400);
  });

  it('a letter that no font has is shown as an empty box', async () => {
    const { words } = await written(['a\u{F5555}b']);
    expect(words).toContain('a□b');
  });
});
