import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { Box } from '../geometry/box.ts';
import type { MarkId } from '../ids/id.ts';
import type { NoteMark, SwapMark } from '../marks/mark.ts';
import type { PageText } from '../passage/text-layer.ts';
import { aboveBox, roomAbove } from './above.ts';
import { foldToFit } from './fold.ts';
import { leadWay } from './leads.ts';
import { findYourself, gatherAlike, likeNotes, likeSuggestions } from './like.ts';

/** Lines of five words of forty points each, `leading` apart, ten high, from the left at 50. */
function pageOf(lines: number, leading: number): PageText {
  const words = Array.from({ length: lines * 5 }, (_, i) => {
    const [x, y] = [50 + (i % 5) * 50, 100 + Math.floor(i / 5) * leading];
    return { text: `w${i}`, box: [x, y, x + 40, y + 10] as Box };
  });
  return {
    words,
    lines: Array.from({ length: lines }, (_, i) => ({
      from: i * 5,
      to: i * 5 + 5,
      box: [50, 100 + i * leading, 290, 110 + i * leading] as Box,
      along: 'x' as const,
    })),
  };
}
const through = (text: PageText, way: readonly (readonly [number, number])[]) =>
  way.slice(1).some(([x1, y1], i) => {
    const [x0, y0] = way[i]!;
    // Only the level parts: the first step stays beside its own word.
    return (
      y0 === y1 &&
      text.words.some(
        ({ box: [l, t, r, b] }) =>
          r > Math.min(x0, x1) + 1 && l < Math.max(x0, x1) - 1 && y1 > t + 0.5 && y1 < b - 0.5,
      )
    );
  });

describe('leads', () => {
  test('leave level from the end of a line, and along the gap from within it', () => {
    const text = pageOf(3, 14);
    expect(leadWay([290, 119], 595, text)).toEqual([
      [290, 119],
      [595, 119],
    ]);
    const way = leadWay([90, 119], 595, text)!;
    expect(way).toHaveLength(3);
    expect(way[1]![1]).toBeCloseTo(124.8, 1);
    expect(through(text, way)).toBe(false);
  });

  test('stay away where lines lie on each other', () => {
    const text = pageOf(4, 9);
    expect(leadWay([70, 123], 595, text)).toBeNull();
  });

  test('go straight where no words are known', () => {
    expect(leadWay([90, 50], 0, null)).toEqual([
      [90, 50],
      [0, 50],
    ]);
  });

  test('never run through a word, wherever they begin and whichever way they go', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 9, max: 24 }),
        fc.nat(249),
        fc.double({ min: 95, max: 180, noNaN: true }),
        fc.boolean(),
        (leading, x, y, left) => {
          const text = pageOf(6, leading);
          const way = leadWay([50 + x, y], left ? 0 : 595, text);
          if (way) expect(through(text, way)).toBe(false);
        },
      ),
      { seed: 5, numRuns: 1000 },
    );
  });
});

const swapAt = (text: PageText, word: number, words: string, n = 1): SwapMark => ({
  v: 2,
  id: testId<MarkId>(n),
  document,
  page: 0,
  colour: 'lake',
  focus: null,
  madeAt: 1,
  kind: 'swap',
  place: {
    on: 'passage',
    bands: [text.words[word]!.box],
    quote: { exact: text.words[word]!.text, prefix: '', suffix: '', start: word * 3, end: word * 3 + 2 },
  },
  words,
});
const wide = (words: string) => words.length * 0.5;

describe('words above a line', () => {
  test('have room between wide lines, and none between close ones', () => {
    const far = pageOf(3, 24);
    const room = roomAbove(swapAt(far, 5, 'steep'), far, 595, wide, [])!;
    expect(room.size).toBe(12);
    const [, top, , bottom] = aboveBox(room, wide('steep'));
    expect(top).toBeGreaterThan(110);
    expect(bottom).toBeLessThanOrEqual(124.01);
    const near = pageOf(3, 14);
    expect(roomAbove(swapAt(near, 5, 'steep'), near, 595, wide, [])).toBeNull();
  });

  test('never stand on others, nor beyond the page, nor in two lines', () => {
    const text = pageOf(3, 24);
    const first = roomAbove(swapAt(text, 5, 'a long correction'), text, 595, wide, [])!;
    const taken = [aboveBox(first, wide('a long correction'))];
    expect(roomAbove(swapAt(text, 6, 'x'), text, 595, wide, taken)).toBeNull();
    expect(roomAbove(swapAt(text, 9, 'y'.repeat(80)), text, 595, wide, [])).toBeNull();
    expect(roomAbove(swapAt(text, 5, 'a\nb'), text, 595, wide, [])).toBeNull();
    expect(roomAbove(swapAt(text, 5, ' '), text, 595, wide, [])).toBeNull();
  });
});

describe('what is alike', () => {
  const note = (n: number, words: string, over: Partial<NoteMark> = {}): NoteMark => ({
    v: 2,
    id: testId<MarkId>(n),
    document,
    page: 0,
    colour: 'lake',
    focus: null,
    madeAt: 1,
    kind: 'note',
    place: { on: 'spot', x: 10 * n, y: 10 * n },
    words,
    ...over,
  });
  test('notes that say the same, with the same focus and points', () => {
    const all = [
      note(1, 'Unit?'),
      note(2, 'unit'),
      note(3, 'Unit?', { points: 100 }),
      note(4, ''),
      note(5, ''),
    ];
    expect(likeNotes(all).map((g) => g.map((n) => n.id))).toEqual([[all[0]!.id, all[1]!.id]]);
  });

  test('suggestions of a kind: the first stands, the others become one note without the words', () => {
    const text = pageOf(2, 20);
    const same = [0, 1, 2].map((i) => ({
      ...swapAt(text, i, 'their', i + 1),
      place: {
        ...swapAt(text, i, '').place,
        quote: { exact: 'thier', prefix: '', suffix: '', start: i * 9, end: i * 9 + 5 },
      },
    }));
    const [group] = likeSuggestions([...same, swapAt(text, 4, 'x', 9)]);
    expect(group).toEqual(same);
    const found = gatherAlike(same, () => testId<MarkId>(20), 'The same again: find it.');
    expect(found.gone).toEqual(same.slice(1));
    expect(found.come).toMatchObject([
      {
        kind: 'note',
        words: 'The same again: find it.',
        place: same[1]!.place,
        also: [{ place: same[2]!.place }],
      },
    ]);
    expect(findYourself(same[0]!, [], testId<MarkId>(21), 'x')).toBeNull();
  });

  test('notes become one at many places, and nothing is gathered where nothing is alike', () => {
    const all = [note(1, 'Unit?'), note(2, 'unit'), note(3, 'Why?')];
    const { gone, come, now } = gatherAlike(all, () => testId<MarkId>(20), '');
    expect([gone, come]).toEqual([[all[1]], []]);
    expect(now).toMatchObject([{ was: all[0], now: { words: 'Unit?', also: [{ place: all[1]!.place }] } }]);
    expect(gatherAlike([all[2]!], () => testId<MarkId>(20), '')).toEqual({ gone: [], come: [], now: [] });
  });
});

describe('folding', () => {
  test('folds the longest first and no more than need be', () => {
    expect([...foldToFit([30, 90, 60, 20], [false, false, false, false], 26, 230, 6)]).toEqual([]);
    expect([...foldToFit([30, 90, 60, 20], [false, false, false, false], 26, 200, 6)]).toEqual([1]);
    expect([...foldToFit([30, 90, 60, 20], [false, true, false, false], 26, 200, 6)]).toEqual([2]);
    expect([...foldToFit([30, 90, 60, 20], [false, false, false, false], 26, 10, 6)].sort()).toEqual([
      0, 1, 2,
    ]);
  });

  test('what it gives fits, or nothing more can be folded; without any one of it, it would not fit', () => {
    const high = fc.array(fc.integer({ min: 10, max: 150 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(high, fc.integer({ min: 0, max: 900 }), (heights, length) => {
        const folded = foldToFit(
          heights,
          heights.map(() => false),
          26,
          length,
          6,
        );
        const total = (set: ReadonlySet<number>) =>
          heights.reduce((sum, h, i) => sum + (set.has(i) ? 26 : h) + 6, -6);
        if (total(folded) > length) expect(folded.size).toBe(heights.filter((h) => h > 26).length);
        const last = [...folded].at(-1);
        if (last !== undefined)
          expect(total(new Set([...folded].filter((i) => i !== last)))).toBeGreaterThan(length);
      }),
      { seed: 3 },
    );
  });
});
