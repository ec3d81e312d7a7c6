import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { CriterionId } from '../ids/id.ts';
import { type CriterionScore, type Score, type ScoreOf, scoreOfCriterion } from '../scores/score.ts';
import { newRubric, rubricOf } from './draft.ts';
import { doubledPoints, halfStep, levelsOf, mostOfRubric, PARTS, rubricTotal } from './total.ts';

let n = 1;
const newId = () => testId<CriterionId>(n++);
const FOUR = [1, 2, 3, 4].map((p) => ({ name: String(p), descriptor: `words ${p}`, points: p * 100 }));
/** The rubric of the sketch: × 3, × 3, × 2, × 1 over levels 1 to 4: 36 points at most. */
const walk = rubricOf(
  [3, 3, 2, 1].map((w, i) => ({ name: `c${i}`, weight: w * 100, levels: FOUR })),
  newId,
);
const at = (c: number, level: number, upper?: number): [ScoreOf, Score] => {
  const { id, levels } = walk.criteria[c]!;
  const stands =
    upper === undefined
      ? ({ is: 'level', level: levels[level - 1]!.id } as const)
      : ({ is: 'between', lower: levels[level - 1]!.id, upper: levels[upper - 1]!.id } as const);
  return [scoreOfCriterion('final', id), { of: 'criterion', stands, words: '', had: [], at: 0 }];
};
const notShown = (c: number): [ScoreOf, Score] => [
  scoreOfCriterion('final', walk.criteria[c]!.id),
  { of: 'criterion', stands: { is: 'not-shown' }, words: '', had: [], at: 0 },
];

describe('a rubric added up', () => {
  test('3 × 3 + 3½ × 3 + 2 × 2 + 4 × 1 is 27½ of 36', () => {
    const total = rubricTotal(
      walk,
      new Map([at(0, 3), at(1, 3, 4), at(2, 2), at(3, 4)]),
      'final',
      'left-out',
    )!;
    expect([total.earned / PARTS, total.most / PARTS]).toEqual([2750, 3600]);
    expect(total.open).toEqual([]);
    expect(mostOfRubric(walk)).toBe(3600);
  });

  test('what was not shown is left out of both sums, or counts as zero; what is open is neither', () => {
    const scores = new Map([at(0, 3), notShown(1)]);
    const out = rubricTotal(walk, scores, 'final', 'left-out')!;
    expect([out.earned / PARTS, out.most / PARTS, out.open.length, out.notShown.length]).toEqual([
      900, 2400, 2, 1,
    ]);
    const zero = rubricTotal(walk, scores, 'final', 'zero')!;
    expect([zero.earned / PARTS, zero.most / PARTS]).toEqual([900, 3600]);
  });

  test('weights that sum to nothing, and levels without points, make no sum', () => {
    const flat = rubricOf([{ name: 'a', weight: 0, levels: FOUR }], newId);
    expect([rubricTotal(flat, new Map(), 'final', 'zero'), mostOfRubric(flat)]).toEqual([null, null]);
    const standards = rubricOf(
      [{ name: 'a', weight: 100, levels: FOUR.map((l) => ({ ...l, points: null })) }],
      newId,
    );
    expect(rubricTotal(standards, new Map(), 'final', 'zero')).toBeNull();
    expect(mostOfRubric(newRubric(newId))).toBe(400);
  });

  test('half of odd hundredths stays exact: between ¼ and ½ are 37½ hundredths', () => {
    const fine = rubricOf(
      [{ name: 'a', weight: 100, levels: [25, 50].map((points) => ({ name: '', descriptor: '', points })) }],
      newId,
    );
    const { id, levels } = fine.criteria[0]!;
    const score: CriterionScore = {
      of: 'criterion',
      stands: { is: 'between', lower: levels[0]!.id, upper: levels[1]!.id },
      words: '',
      had: [],
      at: 0,
    };
    expect(doubledPoints(fine.criteria[0]!, score)).toBe(75);
    expect(
      rubricTotal(fine, new Map([[scoreOfCriterion('final', id), score]]), 'final', 'zero')!.earned / PARTS,
    ).toBe(37.5);
  });

  test('a level that a later version does not have scores nothing, and is named', () => {
    const [key, score] = at(0, 3);
    const later = {
      ...walk,
      criteria: [{ ...walk.criteria[0]!, levels: walk.criteria[0]!.levels.slice(0, 2) }],
    };
    const total = rubricTotal(later, new Map([[key, score]]), 'final', 'zero')!;
    expect([total.earned, total.gone]).toEqual([0, [walk.criteria[0]!.id]]);
    expect(levelsOf(later.criteria[0]!, score as CriterionScore)).toEqual([]);
  });

  test('half a level up by one key, back by the same; from the top half a level down', () => {
    const c = walk.criteria[0]!;
    const score = (s: [ScoreOf, Score]) => s[1] as CriterionScore;
    expect(halfStep(c, score(at(0, 3)))).toEqual(score(at(0, 3, 4)).stands);
    expect(halfStep(c, score(at(0, 3, 4)))).toEqual(score(at(0, 3)).stands);
    expect(halfStep(c, score(at(0, 4)))).toEqual(score(at(0, 3, 4)).stands);
    expect(halfStep(c, null)).toBeNull();
  });
});
