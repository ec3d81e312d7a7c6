import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyEdits, editCost, smallestEdits, wordsIn } from './edits.ts';

/** The slow, obvious way: how many words of a longest common sequence (Wagner and Fischer 1974). */
function commonLength(a: readonly string[], b: readonly string[]): number {
  const rows = [Array<number>(b.length + 1).fill(0)];
  for (const word of a) {
    const above = rows.at(-1)!;
    const row = [0];
    b.forEach((other, j) => row.push(word === other ? above[j]! + 1 : Math.max(above[j + 1]!, row[j]!)));
    rows.push(row);
  }
  return rows.at(-1)!.at(-1)!;
}

const between = (before: string, after: string) => smallestEdits(wordsIn(before), wordsIn(after));

describe('the smallest edits from one sentence to another', () => {
  test('only what changed: a swap, a cut and an addition', () => {
    expect(between('I has went to the the harbour by foot', 'I went to the harbour on foot today')).toEqual([
      { edit: 'cut', from: 1, to: 1 },
      { edit: 'cut', from: 5, to: 5 },
      { edit: 'swap', from: 7, to: 7, words: ['on'] },
      { edit: 'add', after: 8, words: ['today'] },
    ]);
  });

  test.each([
    ['', 'new words', [{ edit: 'add', after: -1, words: ['new', 'words'] }]],
    ['old words', '', [{ edit: 'cut', from: 0, to: 1 }]],
    ['the same', 'the same', []],
    ['all', 'else', [{ edit: 'swap', from: 0, to: 0, words: ['else'] }]],
  ])('“%s” → “%s”', (before, after, edits) => {
    expect(between(before, after)).toEqual(edits);
  });

  test('make the one of the other, with as few words as can be', () => {
    const words = fc.array(fc.constantFrom('a', 'b', 'c', 'd'), { maxLength: 24 });
    fc.assert(
      fc.property(words, words, (a, b) => {
        const edits = smallestEdits(a, b);
        expect(applyEdits(a, edits)).toEqual(b);
        expect(editCost(edits)).toBe(a.length + b.length - 2 * commonLength(a, b));
      }),
      { seed: 7, numRuns: 2000 },
    );
  });

  test('stand apart: between two there is always a word that stays', () => {
    const words = fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 16 });
    fc.assert(
      fc.property(words, words, (a, b) => {
        let end = -1;
        for (const e of smallestEdits(a, b)) {
          const from = e.edit === 'add' ? e.after + 1 : e.from;
          expect(from).toBeGreaterThan(end);
          end = e.edit === 'add' ? e.after + 1 : e.to + 1;
        }
      }),
      { seed: 7 },
    );
  });

  test('another text altogether is one swap between the words at both ends that stay', () => {
    const text = (word: string) => ['first', ...Array.from({ length: 900 }, (_, i) => `${word}${i}`), 'last'];
    const edits = smallestEdits(text('a'), text('b'));
    expect(edits).toMatchObject([{ edit: 'swap', from: 1, to: 900 }]);
    expect(applyEdits(text('a'), edits)).toEqual(text('b'));
  });
});
