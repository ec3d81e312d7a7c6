import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { agreementOf, asCategories } from './agreement.ts';
import { evenGrade } from './shift.ts';
import { correlation, howTheyWork, outliersOf, quantile, spreadOf } from './spread.ts';
import { lineThrough, trendOf } from './trend.ts';
import { unevenIn } from './uneven.ts';

test('the same with different points is told, the most points first; what earned nothing yet says nothing', () => {
  const items = [
    ['a', 50],
    ['a', 100],
    ['a', 50],
    ['b', 100],
    ['b', null],
  ] as const;
  const uneven = unevenIn(
    items,
    (i) => i[0],
    (i) => i[1],
  );
  expect([...uneven]).toEqual([
    [
      'a',
      [
        { points: 100, of: [items[1]] },
        { points: 50, of: [items[0], items[2]] },
      ],
    ],
  ]);
});

describe('a trend', () => {
  test('is the line of least squares: 1, 3, 2, 4 rises by 0.8 from 1.3', () => {
    const { slope, at } = lineThrough([1, 3, 2, 4]);
    expect(slope).toBeCloseTo(0.8);
    expect(at).toBeCloseTo(1.3);
  });

  test('three in order are as steep by chance in 2 of their 6 orders, four in 2 of 24', () => {
    expect(trendOf([9, 8, 7]).chance).toBeCloseTo(2 / 6);
    expect(trendOf([4, 3, 2, 1]).chance).toBeCloseTo(2 / 24);
    // 1, 3, 2, 4 leans by 4 (of 5 at most): reached, either way, by the 2 orders that lean by 5 and the 6 that lean by 4.
    expect(trendOf([1, 3, 2, 4]).chance).toBeCloseTo(8 / 24);
  });

  test('scores that are all the same have no trend, and any order shows as much', () => {
    expect(trendOf([5, 5, 5, 5])).toMatchObject({ slope: 0, chance: 1 });
    expect(trendOf([5, 6]).chance).toBeNull();
  });

  test('many are shuffled, the same for the same seed; a clear drift is hardly chance, none is', () => {
    const drift = Array.from({ length: 30 }, (_, i) => 800 - i * 10 + ((i * 7919) % 60));
    const level = Array.from({ length: 30 }, (_, i) => 500 + ((i * 7919) % 100));
    expect(trendOf(drift).chance).toBeLessThan(0.01);
    expect(trendOf(level).chance).toBeGreaterThan(0.1);
    expect(trendOf(drift, 7)).toEqual(trendOf(drift, 7));
  });

  test('shuffling comes near to trying all orders', () => {
    // Eight are tried exactly; nine, with one that says nothing in the middle, by shuffling. Referee: all 8! by hand elsewhere.
    const chance = trendOf([8, 6, 7, 5, 4, 6, 3, 5, 2]).chance!;
    const again = trendOf([8, 6, 7, 5, 4, 6, 3, 5, 2], 99).chance!;
    expect(Math.abs(chance - again)).toBeLessThan(0.02);
  });
});

describe('agreement', () => {
  const table = (rows: number[][]): [number, number][] =>
    rows.flatMap((row, i) =>
      row.flatMap((n, j) => Array.from({ length: n }, () => [i, j] as [number, number])),
    );

  test('plain kappa of 20, 5, 10, 15 is 0.4', () => {
    const a = agreementOf(
      table([
        [20, 5],
        [10, 15],
      ]),
      2,
      'plain',
    );
    expect([a.pairs, a.same]).toEqual([50, 0.7]);
    expect(a.kappa).toBeCloseTo(0.4);
  });

  test('weighted, worked by hand: three levels, ten copies', () => {
    // Rows 2 1 0 / 1 2 1 / 0 1 2; both have 3, 4, 3. Linear: observed 4, expected (12 + 12 + 12 + 12 + 2 × 9 + 2 × 9) / 10 = 8.4.
    const pairs = table([
      [2, 1, 0],
      [1, 2, 1],
      [0, 1, 2],
    ]);
    expect(agreementOf(pairs, 3, 'linear').kappa).toBeCloseTo(1 - 4 / 8.4);
    // By the square: observed 4, expected (4 × 12 + 2 × 4 × 9) / 10 = 12.
    expect(agreementOf(pairs, 3, 'square').kappa).toBeCloseTo(1 - 4 / 12);
  });

  test('full agreement is 1, and nothing to tell apart says nothing', () => {
    expect(
      agreementOf(
        [
          [0, 0],
          [1, 1],
        ],
        2,
      ).kappa,
    ).toBe(1);
    expect(
      agreementOf(
        [
          [0, 0],
          [0, 0],
        ],
        1,
      ).kappa,
    ).toBeNull();
    expect(agreementOf([], 3).kappa).toBeNull();
    expect(
      asCategories([
        [800, 850],
        [850, 700],
      ]),
    ).toEqual({
      categories: 3,
      pairs: [
        [1, 2],
        [2, 0],
      ],
    });
  });
});

describe('a spread', () => {
  test('median and quartiles of 1 to 8 by interpolation: 4.5, 2.75, 6.25', () => {
    expect(spreadOf([8, 1, 5, 3, 2, 7, 4, 6])).toMatchObject({
      median: 4.5,
      lower: 2.75,
      upper: 6.25,
      mean: 4.5,
      least: 1,
      most: 8,
    });
    expect(spreadOf([])).toBeNull();
    expect(quantile([3], 0.25)).toBe(3);
  });

  test('what lies far outside the middle half is named; few are never judged', () => {
    expect(outliersOf([10, 11, 12, 13, 14, 40], (n) => n)).toEqual([40]);
    expect(outliersOf([1, 2, 40], (n) => n)).toEqual([]);
  });

  test('a question that the strong get right and the weak do not tells them apart', () => {
    const works = howTheyWork(
      [
        [1, 1, 1],
        [1, 1, 0],
        [0, 0, 1],
        [0, 0, 0],
      ],
      [1, 1, 1],
    );
    expect(works.map((w) => w.ease)).toEqual([0.5, 0.5, 0.5]);
    // The first against the sum of the others 2, 1, 1, 0: correlation 1 / √2.
    expect(works[0]!.tellsApart).toBeCloseTo(Math.SQRT1_2);
    expect(works[2]!.tellsApart).toBeCloseTo(0);
    expect(correlation([1, 1], [1, 2])).toBeNull();
  });
});

describe('evening out', () => {
  const halves = { to: 50, way: 'nearest' } as const;
  test('a shift moves each by as much, within 0 and the most', () => {
    expect([0, 950, 1000].map((g) => evenGrade(g, 1000, { how: 'shift', by: 100 }, halves))).toEqual([
      100, 1000, 1000,
    ]);
    expect(evenGrade(50, 1000, { how: 'shift', by: -100 }, halves)).toBe(0);
  });

  test('a stretch keeps the most and makes one grade another: 4 becomes 5, then 7 is 7½', () => {
    const stretch = { how: 'stretch', from: 400, to: 500 } as const;
    expect([400, 700, 1000].map((g) => evenGrade(g, 1000, stretch, halves))).toEqual([500, 750, 1000]);
    expect(evenGrade(700, 1000, { how: 'stretch', from: 1000, to: 500 }, halves)).toBe(700);
  });

  test('keeps the order of grades', () => {
    fc.assert(
      fc.property(fc.nat(1000), fc.nat(1000), fc.nat(999), fc.nat(1000), (a, b, from, to) => {
        const even = (g: number) =>
          evenGrade(g, 1000, { how: 'stretch', from, to }, { to: 1, way: 'nearest' });
        if (a <= b) expect(even(a)).toBeLessThanOrEqual(even(b));
      }),
      { seed: 17 },
    );
  });
});
