import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { exactShape, straightStroke } from './exact.ts';
import { rubPart } from './part.ts';
import { distanceToStroke, pointCount } from './stroke.ts';

/** A stroke through points, in points, at pressure 100. */
const through = (...points: (readonly [number, number])[]) =>
  points.flatMap(([x, y]) => [Math.round(x * 100), Math.round(y * 100), 100]);
const curve = (of: (t: number) => readonly [number, number], n = 40) =>
  through(...Array.from({ length: n + 1 }, (_, i) => of(i / n)));

describe('rubbing out a part', () => {
  test('a stroke cut in the middle is two, ending where the eraser’s edge was', () => {
    const pieces = rubPart(through([0, 0], [100, 0]), [50, 0], 10);
    expect(pieces).toEqual([through([0, 0], [40, 0]), through([60, 0], [100, 0])]);
  });

  test('one end rubbed out leaves the rest, all of it nothing, none of it the very same', () => {
    const stroke = through([0, 0], [30, 0], [60, 0]);
    expect(rubPart(stroke, [0, 0], 10)).toEqual([through([10, 0], [30, 0], [60, 0])]);
    expect(rubPart(stroke, [30, 0], 100)).toEqual([]);
    expect(rubPart(stroke, [30, 40], 10)[0]).toBe(stroke);
    expect(rubPart(through([5, 5]), [5, 6], 2)).toEqual([]);
  });

  test('a stroke that comes back through the eraser is cut at each crossing', () => {
    const pieces = rubPart(through([0, 0], [100, 0], [100, 4], [0, 4]), [50, 2], 10);
    expect(pieces).toHaveLength(3);
  });

  test('what is left lies outside the eraser and on the old stroke', () => {
    const spot = fc.tuple(fc.integer({ min: 0, max: 200 }), fc.integer({ min: 0, max: 200 }));
    fc.assert(
      fc.property(
        fc.array(spot, { minLength: 2, maxLength: 20 }),
        spot,
        fc.integer({ min: 2, max: 40 }),
        (all, at, r) => {
          const stroke = through(...all);
          for (const piece of rubPart(stroke, at, r)) {
            if (piece === stroke) return;
            expect(pointCount(piece)).toBeGreaterThan(1);
            for (let i = 0; i < piece.length; i += 3) {
              const p = [piece[i]! / 100, piece[i + 1]! / 100] as const;
              expect(Math.hypot(p[0] - at[0], p[1] - at[1])).toBeGreaterThanOrEqual(r - 0.02);
              expect(distanceToStroke(p, stroke)).toBeLessThan(0.02);
            }
          }
        },
      ),
    );
  });
});

describe('held still', () => {
  test('a nearly straight stroke is a line from its first point to its last', () => {
    expect(exactShape(curve((t) => [t * 100, Math.sin(t * 9) * 2]))).toEqual({
      as: 'line',
      from: [0, 0],
      to: [100, expect.closeTo(Math.sin(9) * 2, 1)],
    });
  });

  test('a round that closes is a ring, one with corners a box', () => {
    const wobble = (t: number) => 1 + 0.04 * Math.sin(t * 40);
    expect(
      exactShape(
        curve((t) => [50 + 40 * wobble(t) * Math.cos(t * 6.2), 50 + 25 * wobble(t) * Math.sin(t * 6.2)]),
      ),
    ).toMatchObject({ as: 'ring' });
    expect(
      exactShape(
        through([10, 10], [60, 11], [110, 10], [111, 40], [110, 70], [60, 71], [10, 70], [9, 40], [11, 12]),
      ),
    ).toMatchObject({ as: 'box', box: [9, 10, 111, 71] });
  });

  test('writing stays writing', () => {
    expect(exactShape(curve((t) => [t * 8, Math.sin(t * 20) * 4]))).toBeNull();
    expect(exactShape(curve((t) => [t * 100, Math.sin(t * 12) * 20]))).toBeNull();
    expect(exactShape(through([5, 5]))).toBeNull();
  });

  test('straight while a key is held: from the first point to the last at even pressure', () => {
    expect(straightStroke([0, 0, 50, 10, 90, 200, 100, 100, 150])).toEqual([0, 0, 100, 100, 100, 100]);
    expect(straightStroke([1, 2, 3])).toEqual([1, 2, 3]);
  });
});
