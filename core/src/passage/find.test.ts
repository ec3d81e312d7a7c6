import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findWords } from './find.ts';
import type { PageText } from './text-layer.ts';

const page = (...words: string[]): PageText => ({
  words: words.map((text, i) => ({ text, box: [i * 10, 0, i * 10 + 9, 10] })),
  lines: [{ from: 0, to: words.length, box: [0, 0, words.length * 10, 10], along: 'x' }],
});

describe('finding words on a page', () => {
  const hill = page('The', 'hill', 'is', 'steep.', 'Über', 'the', 'Hill', 'hillhill');

  test('by a part of a word, over several words, whatever the case and the accents', () => {
    expect(findWords(hill, 'HILL')).toEqual([
      { from: 1, to: 1 },
      { from: 6, to: 6 },
      { from: 7, to: 7 },
    ]);
    expect(findWords(hill, 'uber  the')).toEqual([{ from: 4, to: 5 }]);
    expect(findWords(hill, 'eep. Ü')).toEqual([{ from: 3, to: 4 }]);
  });

  test('nothing for nothing, and nothing on a scan', () => {
    expect(findWords(hill, '  ')).toEqual([]);
    expect(findWords(hill, 'valley')).toEqual([]);
    expect(findWords({ words: [], lines: [] }, 'hill')).toEqual([]);
  });

  test('every word finds itself, and what is found holds what was looked for', () => {
    const word = fc.stringMatching(/^[A-Za-zäöüÄÉß.]{1,8}$/);
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 30 }), fc.nat(29), (words, n) => {
        const at = n % words.length;
        const found = findWords(page(...words), words[at]!);
        expect(found.some((r) => r.from <= at && at <= r.to)).toBe(true);
        for (const { from, to } of found) expect(to).toBeGreaterThanOrEqual(from);
      }),
    );
  });
});
