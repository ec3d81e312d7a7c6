import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { PersonId } from '../ids/id.ts';
import { inGroups, mayChoose, putIn, Together } from './together.ts';

const person = (n: number) => testId<PersonId>(n);

describe('students in groups', () => {
  test.each([
    [10, 3, [3, 3, 2, 2]],
    [9, 3, [3, 3, 3]],
    [4, 3, [2, 2]],
    [1, 3, [1]],
    [0, 3, []],
    [7, 2, [2, 2, 2, 1]],
  ])('%i in groups of %i', (count, size, sizes) => {
    const groups = inGroups(
      Array.from({ length: count }, (_, i) => i),
      size,
    );
    expect(groups.map((g) => g.length).sort((a, b) => b - a)).toEqual(sizes);
    expect(groups.flat()).toEqual(Array.from({ length: count }, (_, i) => i));
  });

  test('for any class: everybody once, none larger than asked for, sizes differ by one at the most', () => {
    fc.assert(
      fc.property(fc.nat(200), fc.integer({ min: 1, max: 12 }), (count, size) => {
        const groups = inGroups(
          Array.from({ length: count }, (_, i) => i),
          size,
        );
        const sizes = groups.map((g) => g.length);
        expect(new Set(groups.flat()).size).toBe(count);
        if (count) expect(Math.max(...sizes)).toBeLessThanOrEqual(size);
        if (count) expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(1);
      }),
    );
  });

  test('somebody is put into a group, out of all, and into a new one; an empty group goes', () => {
    const [a, b, c] = [person(1), person(2), person(3)];
    expect(putIn([[a, b], [c]], a, 1)).toEqual([[b], [c, a]]);
    expect(putIn([[a], [c]], a, 1)).toEqual([[c, a]]);
    expect(putIn([[a, b]], b, null)).toEqual([[a]]);
    expect(putIn([[a, b]], b, 5)).toEqual([[a], [b]]);
  });

  test('nobody stands in two groups; students choose until the date, and not at it', () => {
    const ok = (groups: PersonId[][]) => Together.safeParse({ most: 3, chosenUntil: null, groups }).success;
    expect([ok([[person(1)], [person(2)]]), ok([[person(1)], [person(1)]])]).toEqual([true, false]);
    expect([mayChoose(null, 0), mayChoose({ chosenUntil: null }, 0)]).toEqual([false, false]);
    expect([mayChoose({ chosenUntil: 10 }, 9), mayChoose({ chosenUntil: 10 }, 10)]).toEqual([true, false]);
  });
});
