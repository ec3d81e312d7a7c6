import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { grow } from '../geometry/box.ts';
import { inkOutline, inkReach } from './outline.ts';
import { distanceToStroke, moveStroke, pointAt, pointCount, quantise, strokeBox } from './stroke.ts';

const stroke = fc
  .array(
    fc.tuple(
      fc.integer({ min: 0, max: 60_000 }),
      fc.integer({ min: 0, max: 80_000 }),
      fc.integer({ min: 0, max: 255 }),
    ),
    {
      minLength: 1,
      maxLength: 40,
    },
  )
  .map((ps) => ps.flat());

/** The slow, obvious referee: walk along every segment in small steps. */
function slowDistance(p: readonly [number, number], points: number[]): number {
  let best = Infinity;
  for (let i = 0; i < pointCount(points); i++) {
    const a = pointAt(points, i);
    const b = pointAt(points, Math.min(i + 1, pointCount(points) - 1));
    for (let s = 0; s <= 400; s++)
      best = Math.min(
        best,
        Math.hypot(p[0] - a[0] - ((b[0] - a[0]) * s) / 400, p[1] - a[1] - ((b[1] - a[1]) * s) / 400),
      );
  }
  return best;
}

describe('a stroke', () => {
  test('is kept in hundredths of a point with pressure brought into range', () => {
    expect(quantise(12.345, 7, 0.5)).toEqual([1235, 700, 128]);
    expect(quantise(1, 1, 7)[2]).toBe(255);
    expect(quantise(1, 1, -1)[2]).toBe(0);
  });

  test('has the box of its points and moves with them', () => {
    const points = [1000, 2000, 100, 3000, 1500, 100];
    expect(strokeBox(points)).toEqual([10, 15, 30, 20]);
    expect(strokeBox(moveStroke(points, 5, -5))).toEqual([15, 10, 35, 15]);
    expect(() => strokeBox([])).toThrow('at least one point');
  });

  test('a hand-worked distance: 3 beside a level line, 5 from its end by 3-4-5', () => {
    const line = [0, 0, 100, 1000, 0, 100];
    expect(distanceToStroke([5, 3], line)).toBeCloseTo(3);
    expect(distanceToStroke([13, 4], line)).toBeCloseTo(5);
  });

  test('distance agrees with walking along the stroke', () => {
    fc.assert(
      fc.property(
        stroke,
        fc.integer({ min: 0, max: 600 }),
        fc.integer({ min: 0, max: 800 }),
        (points, x, y) => {
          const quick = distanceToStroke([x, y], points);
          const slow = slowDistance([x, y], points);
          expect(quick).toBeLessThanOrEqual(slow + 1e-6);
          expect(slow - quick).toBeLessThan(2);
        },
      ),
      { seed: 7, numRuns: 60 },
    );
  });

  test('never draws outside its box grown by its reach', () => {
    fc.assert(
      fc.property(stroke, fc.double({ min: 0.4, max: 12, noNaN: true }), (points, width) => {
        const [l, t, r, b] = grow(strokeBox(points), inkReach(width));
        for (const [x, y] of inkOutline(points, width)) {
          expect(x).toBeGreaterThanOrEqual(l);
          expect(x).toBeLessThanOrEqual(r);
          expect(y).toBeGreaterThanOrEqual(t);
          expect(y).toBeLessThanOrEqual(b);
        }
      }),
      { seed: 7, numRuns: 200 },
    );
  });

  test('a single touch is a dot', () => {
    expect(inkOutline([5000, 5000, 128], 2).length).toBeGreaterThan(6);
  });
});
