import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type MarginItem, packMargin } from './pack.ts';

const cost = (items: readonly MarginItem[], tops: readonly number[]) =>
  items.reduce((sum, item, i) => sum + (tops[i]! - item.want) ** 2, 0);

/** The slow, obvious referee: every way of placing whole-number tops in order. */
function leastCost(items: readonly MarginItem[], length: number, gap: number): number {
  const sorted = items.map((item, i) => ({ ...item, i })).sort((a, b) => a.want - b.want || a.i - b.i);
  const go = (n: number, from: number): number => {
    if (n === sorted.length) return 0;
    let best = Infinity;
    for (let y = from; y + sorted[n]!.height <= length; y++)
      best = Math.min(best, (y - sorted[n]!.want) ** 2 + go(n + 1, y + sorted[n]!.height + gap));
    return best;
  };
  return go(0, 0);
}

describe('packing the margin', () => {
  test('notes with room stand level with their places', () => {
    expect(
      packMargin(
        [
          { want: 10, height: 20 },
          { want: 50, height: 20 },
        ],
        200,
        5,
      ),
    ).toEqual({ fits: true, tops: [10, 50] });
  });

  test('two that want the same place share the move: by hand, 100 and 100 with height 20 and gap 4 part by 12 each', () => {
    expect(
      packMargin(
        [
          { want: 100, height: 20 },
          { want: 100, height: 20 },
        ],
        200,
        4,
      ),
    ).toEqual({ fits: true, tops: [88, 112] });
  });

  test('at the foot of the page they are pushed up, at the head down', () => {
    expect(packMargin([{ want: 95, height: 20 }], 100, 4)).toEqual({ fits: true, tops: [80] });
    expect(packMargin([{ want: -9, height: 20 }], 100, 4)).toEqual({ fits: true, tops: [0] });
  });

  test('too much for the margin says by how much', () => {
    expect(
      packMargin(
        [
          { want: 0, height: 60 },
          { want: 0, height: 60 },
        ],
        100,
        4,
      ),
    ).toEqual({ fits: false, excess: 24 });
  });

  const item = fc.record({ want: fc.integer({ min: -3, max: 24 }), height: fc.integer({ min: 1, max: 6 }) });

  test('never overlaps, stays inside, keeps the order, and no whole-number placing is better', () => {
    fc.assert(
      fc.property(
        fc.array(item, { minLength: 1, maxLength: 4 }),
        fc.integer({ min: 0, max: 2 }),
        (items, gap) => {
          const length = 22;
          const packed = packMargin(items, length, gap);
          const need = items.reduce((s, i) => s + i.height, 0) + gap * (items.length - 1);
          expect(packed.fits).toBe(need <= length);
          if (!packed.fits) return;
          const placed = items
            .map((it, i) => ({ ...it, i, top: packed.tops[i]! }))
            .sort((a, b) => a.want - b.want || a.i - b.i);
          placed.forEach((p, n) => {
            expect(p.top).toBeGreaterThanOrEqual(-1e-9);
            expect(p.top + p.height).toBeLessThanOrEqual(length + 1e-9);
            const next = placed[n + 1];
            if (next) expect(next.top).toBeGreaterThanOrEqual(p.top + p.height + gap - 1e-9);
          });
          expect(cost(items, packed.tops)).toBeLessThanOrEqual(leastCost(items, length, gap) + 1e-6);
        },
      ),
      { seed: 5, numRuns: 150 },
    );
  });
});
