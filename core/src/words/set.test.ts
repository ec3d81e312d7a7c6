import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { drawFormula } from '../formula/formula.ts';
import { textRows } from '../marks/page-text.ts';
import { measureSet, piecesIn, setFormulas, setLines } from './set.ts';

/** Every letter half as wide as it is high. */
const measure = (text: string, size: number) => [...text].length * size * 0.5;

describe('words that are set in rows', () => {
  test('a typed answer has formulas and nothing else', () => {
    const set = setFormulas('so $x^2$ is **not** $5 or $6', drawFormula);
    expect(set.formulas.map((f) => f.tex)).toEqual(['x^2']);
    const { width, above, below } = set.formulas[0]!.drawn;
    expect(above + below).toBeLessThan(1.24);
    expect(measureSet(set, measure)(set.text, 10)).toBeCloseTo(
      measure('so  is **not** $5 or $6', 10) + width * 10,
    );
    const [pieces] = piecesIn([set.text], set, measure, 10);
    expect(pieces!.map((p) => (p.as === 'text' ? p.text : `<${p.tex}>`))).toEqual([
      'so ',
      '<x^2>',
      ' is **not** $5 or $6',
    ]);
    expect(pieces!.map((p) => p.x)).toEqual([0, 15, 15 + width * 10]);
  });

  test('what is no formula, or cannot be drawn yet, stays as it was typed', () => {
    expect(setFormulas('a $\\frac{1$ b', drawFormula)).toEqual({ text: 'a $\\frac{1$ b', formulas: [] });
    expect(setFormulas('a $x$', null)).toEqual({ text: 'a $x$', formulas: [] });
  });

  test('a high formula is drawn smaller: rows stay as far apart as they are', () => {
    const set = setFormulas('$\\displaystyle\\sum_{i=1}^{n}\\frac{a}{b}$', drawFormula);
    const piece = piecesIn([set.text], set, measure, 10)[0]![0]!;
    if (piece.as !== 'formula') throw new Error('no formula');
    expect(piece.size).toBeLessThan(10);
    expect(piece.width).toBeCloseTo(set.formulas[0]!.drawn.width * piece.size);
  });

  test('bold goes on in the next row; items of a list stand in, their rows below each other', () => {
    const mark = { words: 'Say **which line you mean** first\n- one two\n- three', w: 60, size: 10 };
    const rows = textRows(mark, measure);
    const shown = rows.map((r) =>
      r.pieces.map((p) => (p.as === 'text' ? `${p.bold ? '*' : ''}${p.text}` : '')),
    );
    expect(shown).toEqual([
      ['Say ', '*which'],
      ['*line you'],
      ['*mean', ' first'],
      ['•', 'one two'],
      ['•', 'three'],
    ]);
    expect(new Set(rows.slice(3).map((r) => r.right)).size).toBe(1);
    expect(rows[3]!.right).toBeGreaterThan(rows[0]!.right);
    expect(rows.map((r) => Math.round(r.down * 10) / 10)).toEqual([9.8, 22.8, 35.8, 48.8, 61.8]);
  });

  test('for any words: nothing is lost, nothing stands on anything, no row is wider than it may be', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            'a',
            'bb',
            ' ',
            '\n',
            '$x$',
            '$\\frac{1}{2}$',
            '**',
            '*',
            '- ',
            '1. ',
            '\ue410',
            '$',
          ),
          {
            maxLength: 40,
          },
        ),
        fc.integer({ min: 40, max: 200 }),
        (bits, w) => {
          const words = bits.join('');
          const { lines, formulas } = setLines(words, drawFormula);
          const letters = (text: string) => text.replace(/[\s•]/g, '').length;
          const rows = textRows({ words, w, size: 10 }, measure, drawFormula);
          const set = lines.map((l) => l.text).join('');
          const drawn = rows.flatMap((r) => r.pieces);
          expect(drawn.filter((p) => p.as === 'formula')).toHaveLength(
            [...set].filter((c) => c >= '\ue410' && c <= '\ue5ff').length,
          );
          expect(formulas.map((f) => f.tex).every((tex) => words.includes(`$${tex}$`))).toBe(true);
          expect(
            letters(drawn.map((p) => (p.as === 'text' && p.x >= 0 ? p.text : '')).join('')),
          ).toBeGreaterThanOrEqual(letters(set.replace(/[\ue400-\ue5ff]/g, '')));
          for (const row of rows) {
            let x = -Infinity;
            for (const piece of row.pieces) {
              expect(piece.x).toBeGreaterThanOrEqual(x - 1e-6);
              x = piece.x + (piece.as === 'text' ? measure(piece.text, 10) : piece.width);
            }
            expect(row.end).toBeLessThanOrEqual(Math.max(w, row.right + 10, row.right + 12) + 1e-6);
          }
        },
      ),
    );
  });
});
