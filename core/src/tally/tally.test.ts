import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { MarkId, QuestionId } from '../ids/id.ts';
import type { Mark, StampMark } from '../marks/mark.ts';
import { type Score, type ScoreOf, scoreOfQuestion } from '../scores/score.ts';
import { type Asked, belongsTo } from './asked.ts';
import { nextOpen, questionAfter, tallyOf } from './tally.ts';

const id = (n: number) => testId<QuestionId>(n);
const asked = (n: number, most: number | null, top: number): Asked => ({
  id: id(n),
  label: String(n),
  name: '',
  most,
  regions: [{ document, page: 0, box: [60, top, 300, top + 40] }],
});
/** Three questions: 2 points, 3 points, and one that earns nothing. */
const SHEET = [asked(1, 200, 100), asked(2, 300, 200), asked(3, null, 300)];
const stamp = (
  n: number,
  points: number | null,
  x: number,
  y: number,
  more: Partial<StampMark> = {},
): Mark => ({
  v: 2,
  id: testId<MarkId>(100 + n),
  document,
  page: 0,
  colour: 'garnet',
  focus: null,
  madeAt: n,
  kind: 'stamp',
  x,
  y,
  size: 20,
  turn: 0,
  look: { of: 'sign', sign: 'tick' },
  points,
  ...more,
});
const typed = (...scores: [number, number][]): Map<ScoreOf, Score> =>
  new Map(scores.map(([n, points]) => [scoreOfQuestion(id(n)), { of: 'question', points }]));

describe('points belong to a question', () => {
  test.each([
    ['in its region', 100, 110, 1],
    ['in the margin beside it', 520, 115, 1],
    ['just above it, at the words of the question', 80, 185, 2],
    ['half way between two, to the nearer', 80, 165, 1],
    ['far below all of them, to none', 80, 500, null],
  ])('%s', (_, x, y, n) => {
    expect(belongsTo(stamp(1, 100, x, y), SHEET)?.id ?? null).toBe(n && id(n));
  });

  test('what was said by hand goes first, also that it belongs to none; a question that is gone gives it back', () => {
    expect(belongsTo(stamp(1, 100, 100, 110, { question: id(2) }), SHEET)?.id).toBe(id(2));
    expect(belongsTo(stamp(1, 100, 100, 110, { question: null }), SHEET)).toBeNull();
    expect(belongsTo(stamp(1, 100, 100, 110, { question: id(9) }), SHEET)?.id).toBe(id(1));
  });

  test('of two regions, one in the other, the smaller', () => {
    const inner: Asked = { ...asked(4, 100, 0), regions: [{ document, page: 0, box: [60, 100, 120, 120] }] };
    expect(belongsTo(stamp(1, 100, 100, 110), [...SHEET, inner])?.id).toBe(id(4));
  });

  test('a key moves it on: to the next, after the last to none, from none to the first', () => {
    expect([id(1), id(3), null].map((now) => questionAfter(SHEET, now))).toEqual([id(2), null, id(1)]);
  });
});

describe('a tally', () => {
  test('adds stamps and notes by question, within its limits; typed points stand over them', () => {
    const t = tallyOf(
      SHEET,
      [
        stamp(1, 100, 100, 110),
        stamp(2, 50, 200, 110),
        stamp(3, 400, 100, 210),
        stamp(4, 100, 80, 500),
        stamp(5, null, 100, 110),
      ],
      typed([1, 200]),
    );
    expect(t.lines.map((l) => [l.marked, l.typed, l.points])).toEqual([
      [150, 200, 200],
      [400, null, 300],
      [null, null, null],
    ]);
    expect(t.lines.map((l) => l.troubles)).toEqual([
      [{ what: 'typed-differs', typed: 200, marked: 150 }],
      [{ what: 'above-most', given: 400, most: 300 }],
      [],
    ]);
    expect([t.sum, t.most, t.scored, t.open, t.outside.length]).toEqual([500, 500, 2, [], 1]);
  });

  test('less than nothing counts as nothing, and is said', () => {
    const t = tallyOf(SHEET, [stamp(1, -100, 100, 110)], new Map());
    expect(t.lines[0]).toMatchObject({ points: 0, troubles: [{ what: 'below-zero', given: -100 }] });
  });

  test('zero is a score and an open question is none; a question of 0 points is never open', () => {
    const zero = asked(4, 0, 400);
    const t = tallyOf([...SHEET, zero], [], typed([1, 0]));
    expect([t.sum, t.most, t.scored, t.open]).toEqual([0, 500, 1, [id(2)]]);
    expect(tallyOf([zero], [], typed([4, 100])).lines[0]).toMatchObject({
      points: 0,
      troubles: [{ what: 'above-most', given: 100, most: 0 }],
    });
  });

  test('the next open question comes after the one in hand, round to the first', () => {
    const t = tallyOf(SHEET, [stamp(1, 100, 100, 110)], new Map());
    expect([null, id(1), id(2), id(3)].map((after) => nextOpen(t, after))).toEqual([
      id(2),
      id(2),
      id(2),
      id(2),
    ]);
    expect(nextOpen(tallyOf(SHEET, [], typed([1, 0], [2, 0])), null)).toBeNull();
  });

  test('every mark counts once or is said to be outside, and no sum leaves its limits', () => {
    const marks = fc.array(
      fc.record({ x: fc.nat(600), y: fc.nat(600), points: fc.integer({ min: -500, max: 500 }) }),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(marks, (list) => {
        const all = list.map((m, i) => stamp(i, m.points, m.x, m.y));
        const t = tallyOf(SHEET, all, new Map());
        const counted = t.lines.flatMap((l) => l.marks);
        expect([...counted, ...t.outside].length).toBe(all.length);
        expect(new Set([...counted, ...t.outside]).size).toBe(all.length);
        expect(t.sum).toBe(t.lines.reduce((sum, l) => sum + (l.question.most ? (l.points ?? 0) : 0), 0));
        for (const l of t.lines)
          expect((l.points ?? 0) >= 0 && (l.points ?? 0) <= (l.question.most ?? 0)).toBe(true);
      }),
      { seed: 14 },
    );
  });
});
