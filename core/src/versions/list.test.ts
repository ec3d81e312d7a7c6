import { expect, test } from 'vitest';
import * as z from 'zod';
import { listOf, numbersOf } from './list.ts';

test('a list is counted before any item is looked at, and ends at the first that does not fit', () => {
  let looked = 0;
  const item = z.string().refine((s) => {
    looked++;
    return s !== 'bad';
  });
  const list = listOf(item, 3, 1);
  expect(list.parse(['a', 'b'])).toEqual(['a', 'b']);
  looked = 0;
  expect(list.safeParse(Array(1000).fill('bad')).success).toBe(false);
  expect(list.safeParse([]).success).toBe(false);
  expect(list.safeParse('abc').success).toBe(false);
  expect(looked).toBe(0);
  const found = list.safeParse(['a', 'bad', 'bad']);
  expect(looked).toBe(2);
  expect(found.error!.issues.map((i) => i.path)).toEqual([[1]]);
});

test('numbers are counted first, come in whole groups, and fit each for itself', () => {
  const pairs = numbersOf(6, 2, (v, i) => (i % 2 ? v < 10 : v > 0), 2);
  expect(pairs.parse([1, 9, 5, 0])).toEqual([1, 9, 5, 0]);
  for (const bad of [[1], [1, 2, 3], [0, 1], [1, 10], [1, 2.5], [1, '2'], Array(8).fill(1), 'x', null])
    expect(pairs.safeParse(bad).success, JSON.stringify(bad)).toBe(false);
});
