import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyMark, document, testId } from '../changes/arbitrary.ts';
import { contains, grow } from '../geometry/box.ts';
import type { MarkId } from '../ids/id.ts';
import type { Pen } from '../pens/pen.ts';
import { isWorded, Mark, type StampMark, saysNothing, type TextMark } from './mark.ts';
import { withWidth } from './page-text.ts';
import {
  arrowLines,
  coverOf,
  distanceToMark,
  inLoop,
  isMovable,
  leadPoint,
  markAt,
  moveMark,
} from './place.ts';
import { copyMark, coverOfAll, isResizable, resizeMark, steppedBox, withPen } from './remake.ts';
import { uprightBox, uprightStep } from './upright.ts';

const any = anyMark(testId<MarkId>(7));
const base = {
  v: 2 as const,
  id: testId<MarkId>(7),
  document,
  page: 0,
  colour: 'garnet' as const,
  focus: null,
  madeAt: 1,
};
const text: TextMark = {
  ...base,
  kind: 'text',
  x: 100,
  y: 200,
  w: 60,
  h: 20,
  size: 12,
  turn: 0,
  words: 'see',
};
const stamp: StampMark = {
  ...base,
  kind: 'stamp',
  x: 100,
  y: 200,
  size: 20,
  turn: 0,
  look: { of: 'sign', sign: 'tick' },
  points: null,
};

describe('every kind of mark', () => {
  test('is read back as it was written', () => {
    fc.assert(
      fc.property(any, (mark) => void expect(Mark.parse(JSON.parse(JSON.stringify(mark)))).toEqual(mark)),
    );
  });

  test('is met where it is shown: some point of its cover lies on it, none far outside does', () => {
    fc.assert(
      fc.property(any, (mark) => {
        const [l, t, r, b] = coverOf(mark);
        expect(r).toBeGreaterThanOrEqual(l);
        expect(b).toBeGreaterThanOrEqual(t);
        expect(distanceToMark(mark, [l - 50, t - 50])).toBeGreaterThan(20);
        const found = markAt([mark], [r + 60, b + 60], 7);
        expect(found).toBeNull();
      }),
    );
  });

  test('moved there and back is the same, and its cover moves with it', () => {
    fc.assert(
      fc.property(
        any,
        fc.integer({ min: -90, max: 90 }),
        fc.integer({ min: -90, max: 90 }),
        (mark, dx, dy) => {
          const moved = moveMark(mark, dx, dy);
          if (!isMovable(mark)) return void expect(moved).toBe(mark);
          expect(moveMark(moved, -dx, -dy)).toEqual(mark);
          coverOf(moved).forEach((v, i) => expect(v).toBeCloseTo(coverOf(mark)[i]! + (i % 2 ? dy : dx), 5));
        },
      ),
    );
  });

  test('made larger is still a mark, starts at the same corner, and what cannot be is left alone', () => {
    fc.assert(
      fc.property(any, fc.double({ min: 0.3, max: 3, noNaN: true }), (mark, by) => {
        const from = coverOf(mark);
        const to = [
          from[0],
          from[1],
          from[0] + (from[2] - from[0]) * by,
          from[1] + (from[3] - from[1]) * by,
        ] as const;
        const made = resizeMark(mark, from, to);
        expect(Mark.safeParse(made).success).toBe(true);
        if (!isResizable(mark)) expect(made).toBe(mark);
      }),
    );
  });

  test('a step one way makes a sign larger or smaller, and what is drawn only that way; nothing shrinks to naught', () => {
    const cover = coverOf(stamp);
    const step = (marks: readonly Mark[], dx: number, dy: number) =>
      steppedBox(marks, coverOfAll(marks)!, dx, dy);
    // 20 wide: four points more are a fifth more, both ways.
    expect(resizeMark(stamp, cover, step([stamp], 4, 0))).toMatchObject({ size: 24 });
    expect(resizeMark(stamp, cover, step([stamp], 0, -4))).toMatchObject({ size: 16 });
    const box: Mark = { ...base, kind: 'box', box: [10, 10, 50, 30], width: 0.2 };
    expect(step([box], 4, 0)).toEqual([9.9, 9.9, 54.1, 30.1]);
    // Beside what is drawn a sign goes along with it.
    expect(step([box, stamp], 0, 4)[2]).toBe(coverOfAll([box, stamp])![2]);
    for (let small: Mark = stamp, i = 0; i < 30; i++) {
      small = resizeMark(small, coverOf(small), step([small], -4, 0));
      expect(Mark.safeParse(small).success).toBe(true);
    }
  });

  test('words break at another width and are as high as they then are', () => {
    const measure = (t: string, size: number) => t.length * size * 0.5;
    const words = { ...text, words: 'see the map again', w: 200, h: 20 };
    const narrow = withWidth(words, 60, measure);
    expect(narrow).toMatchObject({ w: 60, size: 12, x: 100, y: 200 });
    expect(narrow.h).toBeGreaterThan(withWidth(words, 200, measure).h);
    expect(withWidth(words, -5, measure).w).toBe(24);
    expect(withWidth(words, 1e9, measure).w).toBe(4000);
  });

  test('copied to another page is there with an id of its own; what quotes words stays where they are', () => {
    fc.assert(
      fc.property(any, (mark) => {
        const copy = copyMark(mark, {
          document,
          page: 2,
          by: [3, 4],
          madeAt: 9,
          newId: () => testId<MarkId>(8),
        });
        if (!isMovable(mark) && mark.kind !== 'note') return void expect(copy).toBeNull();
        expect(copy).toMatchObject({ kind: mark.kind, page: 2, id: testId<MarkId>(8), madeAt: 9 });
        expect(JSON.stringify(copy)).not.toContain('"quote"');
      }),
    );
  });

  test('takes another pen’s ink and focus, whatever made it; only what came from elsewhere stays as it is', () => {
    const plum: Pen = { tool: 'note', name: 'praise', colour: 'plum', focus: 'well put' };
    fc.assert(
      fc.property(
        any,
        (mark) =>
          void expect(withPen(mark, plum)).toEqual(
            mark.kind === 'foreign' ? mark : { ...mark, colour: 'plum', focus: 'well put' },
          ),
      ),
    );
    expect(withPen(stamp, { tool: 'eraser', name: 'x', part: false })).toBe(stamp);
  });

  test('that is worded says nothing without words', () => {
    fc.assert(
      fc.property(
        any,
        (mark) => void expect(saysNothing(mark)).toBe(isWorded(mark) && mark.words.trim() === ''),
      ),
    );
  });
});

describe('another pen', () => {
  test('gives drawn marks its width, stamps its look and points', () => {
    const broad: Pen = { tool: 'ring', name: 'ring', colour: 'lake', width: 5, focus: null };
    expect(withPen({ ...base, kind: 'line', from: [0, 0], to: [9, 9], width: 1 }, broad)).toMatchObject({
      kind: 'line',
      width: 5,
      colour: 'lake',
    });
    const half: Pen = {
      tool: 'stamp',
      name: 'half',
      colour: 'moss',
      width: 30,
      focus: null,
      look: { of: 'sign', sign: 'half' },
      points: 50,
    };
    expect(withPen(stamp, half)).toMatchObject({ size: 30, points: 50, look: { sign: 'half' } });
    expect(withPen(text, half)).toEqual({ ...text, colour: 'moss' });
    const large: Pen = { tool: 'text', name: 'large', colour: 'plum', width: 24, focus: null };
    expect(withPen(text, large)).toEqual({ ...text, colour: 'plum', size: 24, w: 120, h: 40 });
  });
});

describe('what is written upright', () => {
  test('a step as it is seen, by hand for each turn', () => {
    expect(uprightStep(0, [3, 1])).toEqual([3, 1]);
    // A page turned a quarter to the right: what goes right on the screen goes up the page.
    expect(uprightStep(90, [3, 1])).toEqual([1, -3]);
    expect(uprightStep(180, [3, 1])).toEqual([-3, -1]);
    expect(uprightStep(270, [3, 1])).toEqual([-1, 3]);
  });

  test('covers its box on turned pages', () => {
    expect(coverOf(text)).toEqual([100, 200, 160, 220]);
    expect(coverOf({ ...text, turn: 90 })).toEqual([100, 140, 120, 200]);
    expect(uprightBox([0, 0], 180, [0, 0], [10, 4])).toEqual([-10, -4, 0, 0]);
  });

  test('a stamp with points needs room for them at its right', () => {
    expect(coverOf(stamp)).toEqual([90, 190, 110, 210]);
    expect(coverOf({ ...stamp, points: 100 })).toEqual([90, 190, 128, 210]);
    expect(coverOf({ ...stamp, points: 100, turn: 90 })).toEqual([90, 172, 110, 210]);
  });
});

describe('drawn marks', () => {
  test('an arrow’s head lies at its end, as wide on both sides', () => {
    const lines = arrowLines({ ...base, kind: 'arrow', from: [0, 0], to: [100, 0], width: 2 });
    expect(lines).toHaveLength(2);
    const [[ax, ay], tip, [bx, by]] = lines[1] as [[number, number], number[], [number, number]];
    expect(tip).toEqual([100, 0]);
    expect(ax).toBeCloseTo(bx);
    expect(ay).toBeCloseTo(-by);
    expect(ax).toBeLessThan(100);
    expect(arrowLines({ ...base, kind: 'line', from: [0, 0], to: [1, 1], width: 2 })).toHaveLength(1);
  });

  test('the inside of a box, a ring or a note’s box is paper', () => {
    const frame: Mark = { ...base, kind: 'box', box: [0, 0, 100, 60], width: 2 };
    expect(distanceToMark(frame, [50, 30])).toBe(29);
    expect(distanceToMark(frame, [0, 30])).toBe(0);
    const ring: Mark = { ...base, kind: 'ring', box: [0, 0, 100, 60], width: 2 };
    expect(distanceToMark(ring, [50, 0])).toBeLessThan(0.1);
    expect(distanceToMark(ring, [2, 2])).toBeGreaterThan(8);
  });

  test('a loop means ink that lies mostly in it, and others by their middle', () => {
    const loop = [
      [0, 0],
      [50, 0],
      [50, 50],
      [0, 50],
    ] as const;
    const ink = (...xs: number[]): Mark => ({
      ...base,
      kind: 'ink',
      width: 2,
      points: xs.flatMap((x) => [x * 100, 2000, 128]),
    });
    expect(inLoop(ink(10, 20, 90), loop)).toBe(true);
    expect(inLoop(ink(10, 80, 90), loop)).toBe(false);
    expect(inLoop({ ...stamp, x: 49, y: 20 }, loop)).toBe(true);
    expect(inLoop({ ...stamp, x: 51, y: 20 }, loop)).toBe(false);
  });

  test('a lead starts at the end of the place that is nearer to the margin', () => {
    const note = {
      ...base,
      kind: 'note' as const,
      words: 'x',
      place: { on: 'box' as const, box: [10, 20, 110, 60] as const },
    };
    expect(leadPoint(note)).toEqual([110, 40]);
    expect(leadPoint(note, 'left')).toEqual([10, 40]);
  });
});

test('covers hold what they cover', () => {
  fc.assert(
    fc.property(any, (mark) => {
      if (mark.kind !== 'line' && mark.kind !== 'arrow') return;
      const cover = grow(coverOf(mark), 0.01);
      for (const line of arrowLines(mark))
        for (const point of line) expect(contains(cover, point), JSON.stringify(point)).toBe(true);
    }),
  );
});
