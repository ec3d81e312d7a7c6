import fc from 'fast-check';
import { expect, test } from 'vitest';
import { REST_MS, restingPlaces } from './resting-places.ts';

test('the wordings that stood a while, and the last one whatever it was', () => {
  const way = [0, 100, 100 + REST_MS, 200 + 2 * REST_MS, 300 + 2 * REST_MS].map((at) => ({ at }));
  expect(restingPlaces(way).map((w) => w.at)).toEqual([100 + REST_MS, 300 + 2 * REST_MS]);
  expect(restingPlaces([])).toEqual([]);
});

test('what rests keeps its order, is part of the way, and ends as the way ends', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(100_000)), (steps) => {
      const way = steps.map((_, i) => ({ at: steps.slice(0, i + 1).reduce((sum, by) => sum + by, 0) }));
      const rest = restingPlaces(way);
      expect(rest.at(-1)).toBe(way.at(-1));
      expect(rest.every((r) => way.includes(r))).toBe(true);
      expect(rest.map((r) => r.at)).toEqual(rest.map((r) => r.at).toSorted((a, b) => a - b));
    }),
  );
});
