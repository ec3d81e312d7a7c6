import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { MarkId } from '../ids/id.ts';
import type { Mark, NoteMark } from './mark.ts';
import { coverOf, distanceToMark, inReadingOrder, isMovable, leadPoint, markAt, moveMark } from './place.ts';

const base = (n: number) => ({
  v: 2 as const,
  id: testId<MarkId>(n),
  document,
  page: 0,
  colour: 'garnet' as const,
  focus: null,
  madeAt: n,
});
const ink = (n: number, points: number[], page = 0): Mark => ({
  ...base(n),
  page,
  kind: 'ink',
  points,
  width: 2,
});
const spot = (n: number, x: number, y: number): NoteMark => ({
  ...base(n),
  kind: 'note',
  place: { on: 'spot', x, y },
  words: 'x',
});
const passage: NoteMark = {
  ...base(9),
  kind: 'note',
  words: 'x',
  place: {
    on: 'passage',
    bands: [
      [100, 10, 200, 22],
      [50, 30, 90, 42],
    ],
    quote: { exact: 'a', prefix: '', suffix: '', start: 0, end: 1 },
  },
};

describe('where a mark is', () => {
  test('the one on top is picked of those within reach, and none beyond', () => {
    const below = ink(1, [0, 0, 128, 10000, 0, 128]);
    const above = ink(2, [5000, -1000, 128, 5000, 1000, 128]);
    expect(markAt([below, above], [50, 0], 3)).toBe(above);
    expect(markAt([below, above], [20, 3], 3)).toBe(below);
    expect(markAt([below, above], [20, 30], 3)).toBeNull();
  });

  test('a passage is hit in its bands, not in the corner between them', () => {
    expect(distanceToMark(passage, [150, 15])).toBe(0);
    expect(distanceToMark(passage, [60, 15])).toBeGreaterThan(10);
    expect(coverOf(passage)).toEqual([50, 10, 200, 42]);
    expect(leadPoint(passage)).toEqual([200, 16]);
  });

  test('moves all but what stands on text', () => {
    expect(moveMark(spot(1, 10, 10), 5, -5)).toMatchObject({ place: { x: 15, y: 5 } });
    expect(moveMark(ink(1, [100, 100, 9]), 1, 1)).toMatchObject({ points: [200, 200, 9] });
    expect(moveMark(passage, 5, 5)).toBe(passage);
    expect([isMovable(passage), isMovable(spot(1, 0, 0)), isMovable(ink(1, [0, 0, 0]))]).toEqual([
      false,
      true,
      true,
    ]);
    const still = spot(1, 10, 10);
    expect(moveMark(still, 0, 0)).toBe(still);
  });

  test('reads by page, then down, then along the line', () => {
    const order = inReadingOrder([
      ink(1, [0, 0, 1], 1),
      spot(2, 300, 100),
      spot(3, 100, 101),
      spot(4, 50, 20),
    ]);
    expect(order.map((m) => m.madeAt)).toEqual([4, 3, 2, 1]);
  });
});
