import { describe, expect, test } from 'vitest';
import { contour } from './contours.ts';
import { bearing, distance, GRID, heightAt, PLACES } from './height.ts';

describe('Hollin Island', () => {
  test('every place stands on land, the summit is the highest of them', () => {
    const heights = PLACES.map((p) => heightAt(p.e, p.n));
    expect(Math.min(...heights)).toBeGreaterThan(0);
    expect(Math.max(...heights)).toBe(heightAt(34.4, 76.1));
  });

  test('the map’s edge is sea all round', () => {
    for (let k = 0; k <= 70; k++) {
      const e = GRID.e0 + (k / 70) * (GRID.e1 - GRID.e0);
      const n = GRID.n0 + (k / 70) * (GRID.n1 - GRID.n0);
      for (const h of [
        heightAt(e, GRID.n0),
        heightAt(e, GRID.n1),
        heightAt(GRID.e0, n),
        heightAt(GRID.e1, n),
      ])
        expect(h).toBeLessThan(0);
    }
  });

  test('contour lines of a cone are closed rings at the right distance', () => {
    const rings = contour((x, y) => 10 - Math.hypot(x, y), 7, { e0: -10, e1: 10, n0: -10, n1: 10 }, 5);
    expect(rings).toHaveLength(1);
    for (const [x, y] of rings[0]!) expect(Math.hypot(x, y)).toBeCloseTo(3, 1);
    expect(rings[0]![0]).toEqual(rings[0]!.at(-1));
  });

  test('distances and bearings by hand: 3 east and 4 north are 5 km on bearing 037', () => {
    const a = { e: 31, n: 73 };
    expect(distance(a, { e: 34, n: 77 })).toBeCloseTo(5000);
    expect(bearing(a, { e: 34, n: 77 })).toBe(37);
    expect(bearing(a, { e: 30, n: 73 })).toBe(270);
  });
});
