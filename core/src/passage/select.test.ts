import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Box, Point } from '../geometry/box.ts';
import { wordAt, wordsBetween } from './select.ts';
import type { PageText } from './text-layer.ts';

type Laid = readonly (readonly [words: string, left: number, top: number])[];

/** Lines of words in the order they are drawn; a letter is 6 wide, a word's gap 4, a line 12 high with its words 10 high in it. */
function lay(lines: Laid, along: 'x' | 'y' = 'x'): PageText {
  const turned = ([l, t, r, b]: Box): Box => (along === 'x' ? [l, t, r, b] : [t, l, b, r]);
  const words: PageText['words'] = [];
  const out: PageText['lines'] = [];
  for (const [line, left, top] of lines) {
    const from = words.length;
    let x = left;
    for (const text of line.split(' ')) {
      words.push({ text, box: turned([x, top + 1, x + text.length * 6, top + 11]) });
      x += text.length * 6 + 4;
    }
    out.push({ from, to: words.length, box: turned([left, top, x - 4, top + 12]), along });
  }
  return { words, lines: out };
}

const said = (text: PageText, range: { from: number; to: number } | null) =>
  range &&
  text.words
    .slice(range.from, range.to + 1)
    .map((w) => w.text)
    .join(' ');
const middle = (text: PageText, word: number): Point => {
  const [l, t, r, b] = text.words[word]!.box;
  return [(l + r) / 2, (t + b) / 2];
};
const at = (text: PageText, word: string) => text.words.findIndex((w) => w.text === word);

describe('an answer that lies on its blank', () => {
  const sheet = lay([
    ['Where does the horse stand?', 50, 100],
    ['______________________', 50, 120],
    ['______________________', 50, 140],
    ['behind the old barn', 52, 118],
    ['by the river', 52, 138],
  ]);

  test('is what a drag over it takes, within a line and over both', () => {
    const [behind, barn, river] = ['behind', 'barn', 'river'].map((w) => middle(sheet, at(sheet, w)));
    expect(said(sheet, wordsBetween(sheet, behind!, barn!))).toBe('behind the old barn');
    expect(said(sheet, wordsBetween(sheet, behind!, river!))).toBe('behind the old barn by the river');
    expect(said(sheet, wordsBetween(sheet, river!, behind!))).toBe('behind the old barn by the river');
  });

  test('also a little below it, on the rule itself; where nothing was written the blank is meant', () => {
    expect(sheet.words[wordAt(sheet, [70, 131])!]!.text).toBe('behind');
    const empty = lay([['______________________', 50, 120]]);
    expect(empty.words[wordAt(empty, [70, 126])!]!.text).toMatch(/^_+$/);
    // Far right of the answer only the blank is there.
    expect(sheet.words[wordAt(sheet, [180, 146])!]!.text).toMatch(/^_+$/);
  });

  test('the topmost of words that lie on each other is meant', () => {
    const over = lay([
      ['printed words here', 50, 100],
      ['written', 50, 101],
    ]);
    expect(over.words[wordAt(over, [60, 106])!]!.text).toBe('written');
    expect(over.words[wordAt(over, [110, 106])!]!.text).toBe('words');
  });
});

describe('a drag that ends in the white', () => {
  const page = lay([
    ['a short line', 50, 100],
    ['and the next one is a good deal longer than that', 50, 113],
    ['a third', 50, 126],
  ]);

  test.each([120, 160, 300, 900])('right of a line ends with that line (%s)', (x) => {
    expect(said(page, wordsBetween(page, middle(page, 1), [x, 106]))).toBe('short line');
    expect(said(page, wordsBetween(page, middle(page, 1), [x, 111]))).toBe('short line');
  });

  test('left of a line begins with it; below all of them is the last line', () => {
    expect(said(page, wordsBetween(page, middle(page, 4), [10, 119]))).toBe('and the');
    expect(said(page, wordsBetween(page, middle(page, at(page, 'third')), [52, 600]))).toBe('a third');
  });

  test('stays in its column, however near the other one is', () => {
    const columns = lay([
      ['left one ends', 50, 100],
      ['left two', 50, 114],
      ['right one begins', 180, 100],
      ['right two goes on', 180, 114],
    ]);
    const two = middle(columns, at(columns, 'two'));
    // In the gutter, nearer to the right column than to the end of its own line.
    expect(said(columns, wordsBetween(columns, middle(columns, 3), [170, two[1]]))).toBe('left two');
    // Into the other column itself it goes there.
    expect(
      said(columns, wordsBetween(columns, middle(columns, 3), middle(columns, at(columns, 'begins')))),
    ).toBe('left two right one begins');
  });
});

test('from any word to any other of a page, whichever way it runs, a drag takes these and what is between, and nothing else', () => {
  const words = fc.stringMatching(/^[a-z]{1,9}$/);
  const line = fc.array(words, { minLength: 1, maxLength: 8 }).map((all) => all.join(' '));
  fc.assert(
    fc.property(
      fc.array(line, { minLength: 1, maxLength: 12 }),
      fc.integer({ min: 12, max: 30 }),
      fc.constantFrom('x' as const, 'y' as const),
      fc.nat(),
      fc.nat(),
      fc.double({ min: 0.05, max: 0.95, noNaN: true }),
      (lines, leading, along, n, m, where) => {
        const text = lay(
          lines.map((l, i) => [l, 50, 100 + i * leading] as const),
          along,
        );
        const [a, b] = [n % text.words.length, m % text.words.length];
        const spot = (word: number): Point => {
          const [l, t, r, bottom] = text.words[word]!.box;
          return [l + (r - l) * where, t + (bottom - t) * where];
        };
        expect(wordAt(text, spot(a))).toBe(a);
        expect(wordsBetween(text, spot(a), spot(b))).toEqual({ from: Math.min(a, b), to: Math.max(a, b) });
      },
    ),
  );
});

test('wherever a drag ends, it ends at a line as near as any across its way, in the column it began in', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 10 }),
      fc.nat(),
      fc.integer({ min: -200, max: 900 }),
      fc.integer({ min: -200, max: 900 }),
      (lengths, n, x, y) => {
        const text = lay(lengths.map((length, i) => ['w'.repeat(length), 50, 100 + i * 14] as const));
        const start = n % text.words.length;
        const range = wordsBetween(text, middle(text, start), [x, y])!;
        const end = range.from === start ? range.to : range.from;
        const off = (i: number) => Math.max(text.lines[i]!.box[1] - y, 0, y - text.lines[i]!.box[3]);
        expect(off(end)).toBeCloseTo(Math.min(...text.lines.map((_, i) => off(i))));
      },
    ),
  );
});
