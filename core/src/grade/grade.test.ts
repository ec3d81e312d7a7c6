import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { CriterionId, QuestionId } from '../ids/id.ts';
import { rubricOf } from '../rubric/draft.ts';
import { type Score, type ScoreOf, scoreOfCriterion, scoreOfQuestion } from '../scores/score.ts';
import type { Asked } from '../tally/asked.ts';
import { fraction, roundTo } from './fraction.ts';
import { computeGrade, countingGrade, type Scored } from './grade.ts';
import { type LateRule, lateDays, lateDeduction } from './late.ts';
import { formatGrade, LETTERS, parseGrade, type Scale } from './scale.ts';
import { plainScoring, type Scoring } from './scoring.ts';

const DAY = 86_400_000;
const q = (n: number, most: number): Asked => ({
  id: testId<QuestionId>(n),
  label: String(n),
  name: '',
  most,
  regions: [{ document, page: 0, box: [0, n * 100, 10, n * 100 + 10] }],
});
let n = 500;
const rubric = rubricOf(
  [1, 2].map((i) => ({
    name: `c${i}`,
    weight: 100,
    levels: [1, 2, 3, 4].map((p) => ({ name: String(p), descriptor: '', points: p * 100 })),
  })),
  () => testId<CriterionId>(n++),
);
const points = (n: number, value: number): [ScoreOf, Score] => [
  scoreOfQuestion(testId<QuestionId>(n)),
  { of: 'question', points: value },
];
const level = (c: number, l: number): [ScoreOf, Score] => [
  scoreOfCriterion('final', rubric.criteria[c]!.id),
  {
    of: 'criterion',
    stands: { is: 'level', level: rubric.criteria[c]!.levels[l - 1]!.id },
    words: '',
    had: [],
    at: 0,
  },
];
const scored = (
  scoring: Partial<Scoring>,
  scores: [ScoreOf, Score][],
  more: Partial<Scored> = {},
): Scored => ({
  most: 2000,
  scoring: { ...plainScoring(true), ...scoring },
  asked: [q(1, 400), q(2, 600)],
  rubric,
  marks: [],
  scores: new Map(scores),
  late: 0,
  lifted: false,
  ...more,
});

describe('a grade', () => {
  test('from the tally alone is the tally, in proportion where the assignment has other points', () => {
    expect(computeGrade(scored({}, [points(1, 300), points(2, 500)], { most: 1000 })).value).toBe(800);
    // 7 of 10, out of 20: 14.
    expect(computeGrade(scored({}, [points(1, 300), points(2, 400)])).value).toBe(1400);
  });

  test('by shares: 60 % of 7 of 10 and 40 % of 6 of 8, out of 20, is 14.4', () => {
    const sum = computeGrade(
      scored({ by: 'both', tallyShare: 60 }, [points(1, 300), points(2, 400), level(0, 4), level(1, 2)]),
    );
    // 20 × (0.6 × 0.7 + 0.4 × 0.75) = 20 × 0.72.
    expect(sum.value).toBe(1440);
    expect(sum.parts).toEqual([
      { of: 'tally', earned: 700, most: 1000, share: 60 },
      { of: 'rubric', earned: 600, most: 800, share: 40 },
    ]);
  });

  test('is exact where binary fractions are not: a third of 10 three times over', () => {
    const thirds = scored({ rounding: { to: 1, way: 'nearest' } }, [points(1, 100)], {
      most: 1000,
      asked: [q(1, 300)],
    });
    expect(computeGrade(thirds).value).toBe(333);
    expect(roundTo(fraction(1000 * 3, 3), 1, 'down')).toBe(1000);
  });

  test.each([
    [50, 'nearest', 1450],
    [100, 'nearest', 1400],
    [100, 'up', 1500],
    [25, 'down', 1425],
    [10, 'nearest', 1440],
  ] as const)('14.4 rounded to %i hundredths, %s, is %i', (to, way, value) => {
    const sum = computeGrade(
      scored({ by: 'both', tallyShare: 60, rounding: { to, way } }, [
        points(1, 300),
        points(2, 400),
        level(0, 4),
        level(1, 2),
      ]),
    );
    expect(sum.value).toBe(value);
  });

  test('halves go up', () => {
    expect(roundTo(fraction(1425), 50, 'nearest')).toBe(1450);
    expect(roundTo(fraction(1424), 50, 'nearest')).toBe(1400);
  });

  test.each([
    ['ungraded', {}, { most: null }],
    ['by-hand', { by: 'hand' as const }, {}],
    ['nothing-scored', {}, {}],
    ['no-questions', {}, { asked: [] }],
    ['no-rubric', { by: 'rubric' as const }, { rubric: null }],
    ['nothing-scored', { by: 'rubric' as const }, {}],
  ])('is none, and says why: %s', (why, scoring, more) => {
    expect(computeGrade(scored(scoring, [], more))).toMatchObject({ value: null, why });
  });

  test('of both is none before something of each is scored, and says what is open', () => {
    const sum = computeGrade(scored({ by: 'both' }, [points(1, 300)]));
    expect(sum).toMatchObject({ value: null, why: 'nothing-scored', open: 3 });
  });

  test('a rubric that was all "not shown" makes no grade where that is left out, and 0 where it counts', () => {
    const none: [ScoreOf, Score][] = rubric.criteria.map((c) => [
      scoreOfCriterion('final', c.id),
      { of: 'criterion', stands: { is: 'not-shown' }, words: '', had: [], at: 0 },
    ]);
    expect(computeGrade(scored({ by: 'rubric' }, none)).value).toBeNull();
    expect(computeGrade(scored({ by: 'rubric', notShown: 'zero' }, none)).value).toBe(0);
  });

  test('lies within 0 and the most, whatever is scored', () => {
    fc.assert(
      fc.property(
        fc.nat(100_000),
        fc.nat(100_000),
        fc.integer({ min: 1, max: 4 }),
        fc.nat(100),
        fc.nat(20 * DAY),
        fc.constantFrom(1 as const, 25 as const, 50 as const, 100 as const),
        (a, b, l, tallyShare, late, to) => {
          const s = scored(
            {
              by: 'both',
              tallyShare,
              rounding: { to, way: 'up' },
              late: { counts: 'percent', perDay: 1000, cap: null, graceDays: 1 },
            },
            [points(1, a), points(2, b), level(0, l), level(1, l)],
            { late, most: 1833 },
          );
          const { value } = computeGrade(s);
          expect(value).toBeGreaterThanOrEqual(0);
          expect(value).toBeLessThanOrEqual(1833);
        },
      ),
      { seed: 15 },
    );
  });

  test('of several hand-ins the later or the better counts', () => {
    expect(countingGrade([1400, 1200], 'later')).toBe(1200);
    expect(countingGrade([1400, 1200], 'better')).toBe(1400);
    expect(countingGrade([1400, null], 'later')).toBe(1400);
    expect(countingGrade([null], 'better')).toBeNull();
  });
});

describe('being late', () => {
  const rule: LateRule = { counts: 'percent', perDay: 1000, cap: 3000, graceDays: 1 };
  test.each([
    [0, 0, 0],
    [1, 0, 0],
    [24 * 3_600_000, 0, 0],
    [24 * 3_600_000 + 1, 1, 180],
    [3 * DAY, 2, 360],
    [30 * DAY, 29, 540],
  ])(
    '%i ms late are %i days after one of grace, and cost %i of 1800 at 10 %% a day, 30 %% at most',
    (ms, days, off) => {
      expect([lateDays(ms, rule), lateDeduction(rule, ms, 1800)]).toEqual([days, off]);
    },
  );

  test('in points, and never more than there are', () => {
    const points: LateRule = { counts: 'points', perDay: 50, cap: null, graceDays: 0 };
    expect(lateDeduction(points, 2 * DAY, 1800)).toBe(100);
    expect(lateDeduction(points, 60 * DAY, 1800)).toBe(1800);
  });

  test('is taken off after rounding, shown, and lifted by hand', () => {
    const s = scored({ late: { ...rule, graceDays: 0 } }, [points(1, 300), points(2, 400)], { late: DAY });
    expect(computeGrade(s)).toMatchObject({
      before: 1400,
      late: { days: 1, off: 200, lifted: false },
      value: 1200,
    });
    expect(computeGrade({ ...s, lifted: true })).toMatchObject({
      late: { off: 0, lifted: true },
      value: 1400,
    });
  });
});

describe('a scale', () => {
  const own: Scale = LETTERS;
  test.each([
    ['points', { kind: 'points' }, 1450, '14½'],
    ['percent', { kind: 'percent' }, 1450, '80.6 %'],
    ['percent', { kind: 'percent' }, 900, '50 %'],
    ['letters', own, 1530, 'A'],
    ['letters', own, 1529, 'B'],
    ['letters', own, 0, 'E'],
    ['done', { kind: 'done', from: 5000 }, 900, 'Done'],
    ['done', { kind: 'done', from: 5000 }, 899, 'Not yet'],
  ] as [string, Scale, number, string][])('%s of 18', (_, scale, value, text) => {
    expect(formatGrade(value, 1800, scale)).toBe(text);
  });

  test.each([
    ['14,5', { kind: 'points' }, 1450],
    ['80.5 %', { kind: 'percent' }, 1449],
    ['80', { kind: 'percent' }, 1440],
    ['a', own, 1530],
    ['B', own, 1260],
    ['12', own, 1200],
    ['d', { kind: 'done', from: 5000 }, 1800],
    ['not', { kind: 'done', from: 5000 }, 0],
  ] as [string, Scale, number][])('"%s" is read', (text, scale, value) => {
    expect(parseGrade(text, 1800, scale)).toEqual({ ok: true, value });
  });

  test.each([
    ['25', { kind: 'points' }, 'above-most'],
    ['101 %', { kind: 'percent' }, 'above-most'],
    ['F', own, 'no-such-word'],
    ['', own, 'empty'],
    ['maybe', { kind: 'done', from: 1 }, 'no-such-word'],
  ] as [string, Scale, string][])('"%s" is refused', (text, scale, reason) => {
    expect(parseGrade(text, 1800, scale)).toEqual({ ok: false, reason });
  });

  test('a whole percentage, and each word, comes back as it was typed', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 100, max: 100_000 }), (p, most) => {
        const read = parseGrade(String(p), most, { kind: 'percent' });
        expect(read.ok && formatGrade(read.value, most, { kind: 'percent' })).toBe(`${p} %`);
        for (const { label } of LETTERS.rows) {
          const word = parseGrade(label, most, own);
          expect(word.ok && formatGrade(word.value, most, own)).toBe(label);
        }
      }),
      { seed: 16 },
    );
  });
});
