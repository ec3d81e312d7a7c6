import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findQuote, quoteOf } from './quote.ts';
import { wordAt, wordsBetween } from './select.ts';
import { bandsOver, type PageText } from './text-layer.ts';

/** Lines of words, each word 10 wide a letter, each line 12 high and 20 below the one before. */
function lay(lines: string[], left = 50): PageText {
  const words: PageText['words'] = [];
  const out: PageText['lines'] = [];
  lines.forEach((line, n) => {
    const from = words.length;
    let x = left;
    for (const text of line.split(' ')) {
      words.push({ text, box: [x, 100 + n * 20, x + text.length * 10, 110 + n * 20] });
      x += text.length * 10 + 5;
    }
    out.push({ from, to: words.length, box: [left, 99 + n * 20, x - 5, 111 + n * 20], along: 'x' });
  });
  return { words, lines: out };
}

const page = lay(['the hill is steep', 'on the north side', 'and the hill is flat']);

describe('picking words', () => {
  test('a point in a word means that word, beside the line its nearest word, far away nothing', () => {
    expect(wordAt(page, [90, 105])).toBe(1);
    expect(wordAt(page, [400, 125])).toBeNull();
    expect(wordAt(page, [210, 125])).toBe(7);
    expect(wordAt(page, [60, 400])).toBeNull();
  });

  test('a drag takes whole words in reading order, whichever way it went', () => {
    expect(wordsBetween(page, [90, 105], [60, 125])).toEqual({ from: 1, to: 4 });
    expect(wordsBetween(page, [60, 125], [90, 105])).toEqual({ from: 1, to: 4 });
  });

  test('bands are one a line and as high as the line', () => {
    expect(bandsOver(page, { from: 1, to: 4 })).toEqual([
      [85, 99, 205, 111],
      [50, 119, 70, 131],
    ]);
  });

  test('on a turned page lines run along y and bands keep the width of the line', () => {
    const turned: PageText = {
      words: [
        { text: 'up', box: [10, 40, 20, 60] },
        { text: 'down', box: [11, 65, 19, 99] },
      ],
      lines: [{ from: 0, to: 2, box: [9, 40, 21, 99], along: 'y' }],
    };
    expect(bandsOver(turned, { from: 1, to: 1 })).toEqual([[9, 65, 21, 99]]);
  });
});

describe('a quote', () => {
  test('keeps what stands before and after', () => {
    expect(quoteOf(page, { from: 1, to: 2 })).toEqual({
      exact: 'hill is',
      prefix: 'the ',
      suffix: ' steep on the north side and the',
      start: 4,
      end: 11,
    });
  });

  test('finds its place again when words came in before it', () => {
    const later = lay(['I think that the hill is steep', 'on the north side', 'and the hill is flat']);
    expect(findQuote(later, quoteOf(page, { from: 1, to: 2 }))).toEqual({
      ok: true,
      range: { from: 4, to: 5 },
    });
  });

  test('of two like passages takes the one with like surroundings', () => {
    const later = lay(['well and the hill is flat', 'here the hill is steep', 'on the north side']);
    expect(findQuote(later, quoteOf(page, { from: 1, to: 2 }))).toEqual({
      ok: true,
      range: { from: 8, to: 9 },
    });
  });

  test('says gone when it is', () => {
    expect(findQuote(lay(['nothing left']), quoteOf(page, { from: 0, to: 1 }))).toEqual({
      ok: false,
      reason: 'gone',
    });
  });

  test('on the same page always finds the very words', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', 'the', 'hill', 'is', 'steep', 'a'), { minLength: 1, maxLength: 30 }),
        fc.nat(),
        fc.nat(),
        (words, a, b) => {
          const text = lay([words.join(' ')]);
          const from = Math.min(a % words.length, b % words.length);
          const to = Math.max(a % words.length, b % words.length);
          expect(findQuote(text, quoteOf(text, { from, to }))).toEqual({ ok: true, range: { from, to } });
        },
      ),
      { seed: 11 },
    );
  });
});
