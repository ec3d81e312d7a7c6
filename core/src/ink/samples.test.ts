import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type PageView, toPage } from '../geometry/page-space.ts';
import { samplesInto } from './samples.ts';
import { quantise } from './stroke.ts';

const views = fc.record({
  width: fc.integer({ min: 50, max: 2000 }),
  height: fc.integer({ min: 50, max: 2000 }),
  turn: fc.constantFrom(0, 90, 180, 270),
  zoom: fc.double({ min: 0.1, max: 8, noNaN: true }),
}) as fc.Arbitrary<PageView>;

test('samples are what each of them is by itself, to a hundredth of a point', () => {
  fc.assert(
    fc.property(
      views,
      fc.array(
        fc.tuple(
          fc.double({ min: -100, max: 4000, noNaN: true }),
          fc.double({ min: -100, max: 4000, noNaN: true }),
          fc.double({ min: -1, max: 2, noNaN: true }),
        ),
        { maxLength: 30 },
      ),
      (view, samples) => {
        for (const [x, y, p] of samples) {
          const points: number[] = [];
          samplesInto(points, view)(x, y, p);
          const [px, py] = toPage(view, [x, y]);
          const [qx, qy, qp] = quantise(px, py, p);
          // Rounding may fall to the other side where the two ways of reckoning differ in the last bit.
          expect(Math.abs(points[0]! - qx)).toBeLessThanOrEqual(1);
          expect(Math.abs(points[1]! - qy)).toBeLessThanOrEqual(1);
          expect(points[2]).toBe(qp);
        }
      },
    ),
  );
});

test('a pen that stands still adds nothing', () => {
  const points: number[] = [];
  const add = samplesInto(points, { width: 600, height: 800, turn: 0, zoom: 2 });
  add(20, 40, 0.5);
  add(20.001, 40, 0.9);
  add(22, 40, 0.5);
  expect(points).toEqual([1000, 2000, 128, 1100, 2000, 128]);
});
