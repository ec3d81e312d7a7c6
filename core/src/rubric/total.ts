import type { CriterionId } from '../ids/id.ts';
import { type CriterionScore, criterionScore, type Round, type Scores } from '../scores/score.ts';
import type { Criterion, Level, Rubric } from './rubric.ts';

/** Points of a level doubled, so that half way between two levels is exact. Null: levels without points. */
export function doubledPoints(criterion: Criterion, score: CriterionScore | null): number | null {
  if (!score?.stands || score.stands.is === 'not-shown') return null;
  const levels = levelsOf(criterion, score);
  if (levels.length === 0 || levels.some((l) => l.points === null)) return null;
  return levels.length === 2 ? levels[0]!.points! + levels[1]!.points! : levels[0]!.points! * 2;
}

/** The level somebody stands at, or the two they stand between, the lower first; none where nothing was scored or a level is gone. */
export function levelsOf(criterion: Criterion, score: CriterionScore | null): readonly Level[] {
  const stands = score?.stands;
  if (!stands || stands.is === 'not-shown') return [];
  const ids = stands.is === 'level' ? [stands.level] : [stands.lower, stands.upper];
  const found = ids.flatMap((id) => criterion.levels.find((l) => l.id === id) ?? []);
  return found.length === ids.length ? found : [];
}

/** The most a criterion can earn before its weight, in hundredths; null: its levels have no points. */
export function mostOfCriterion({ levels }: Pick<Criterion, 'levels'>): number | null {
  const points = levels.map((l) => l.points);
  return points.some((p) => p === null) ? null : Math.max(...(points as number[]));
}

export interface RubricTotal {
  /** What was earned, as a fraction of hundredths: `earned / PARTS`. */
  readonly earned: number;
  /** The most of what counts, in the same parts. */
  readonly most: number;
  /** Criteria that nobody has scored. */
  readonly open: readonly CriterionId[];
  readonly notShown: readonly CriterionId[];
  /** Scored to a level that this version does not have. */
  readonly gone: readonly CriterionId[];
}

/** Weights are hundredths and half levels are halves: so many parts make a hundredth of a point. */
export const PARTS = 200;

/**
 * A round added up: each criterion's points by its weight, Σ weight × points. What was not shown is left out of both sums, or counts as 0
 * (`notShown`). Null: no criterion has points and a weight, so there is nothing to add.
 */
export function rubricTotal(
  rubric: Rubric,
  scores: Scores,
  round: Round,
  notShownCounts: 'left-out' | 'zero',
): RubricTotal | null {
  let earned = 0;
  let most = 0;
  let counts = false;
  const open: CriterionId[] = [];
  const notShown: CriterionId[] = [];
  const gone: CriterionId[] = [];
  for (const criterion of rubric.criteria) {
    const score = criterionScore(scores, round, criterion.id);
    if (!score?.stands) open.push(criterion.id);
    else if (score.stands.is === 'not-shown') notShown.push(criterion.id);
    else if (levelsOf(criterion, score).length === 0) gone.push(criterion.id);
    const top = mostOfCriterion(criterion);
    if (top === null || top === 0 || criterion.weight === 0) continue;
    counts = true;
    if (score?.stands?.is === 'not-shown' && notShownCounts === 'left-out') continue;
    most += top * 2 * criterion.weight;
    earned += (doubledPoints(criterion, score) ?? 0) * criterion.weight;
  }
  return counts ? { earned, most, open, notShown, gone } : null;
}

/** The most a whole rubric can earn, in hundredths, rounded up to one; null: nothing in it counts. */
export function mostOfRubric(rubric: Pick<Rubric, 'criteria'>): number | null {
  let parts = 0;
  let counts = false;
  for (const c of rubric.criteria) {
    const top = mostOfCriterion(c);
    if (top === null || top === 0 || c.weight === 0) continue;
    counts = true;
    parts += top * 2 * c.weight;
  }
  return counts ? Math.ceil(parts / PARTS) : null;
}

/** What stands at one key further up or down: levels, and half ways between neighbours, from the least to the most. */
export function steps(criterion: Criterion): readonly NonNullable<CriterionScore['stands']>[] {
  return criterion.levels.flatMap((level, i) => {
    const next = criterion.levels[i + 1];
    const here = { is: 'level' as const, level: level.id };
    return next ? [here, { is: 'between' as const, lower: level.id, upper: next.id }] : [here];
  });
}

/** The step half a level above where one stands; from the top one down again. Null: nothing stands there, or it was not shown. */
export function halfStep(criterion: Criterion, score: CriterionScore | null): CriterionScore['stands'] {
  const stands = score?.stands;
  if (!stands || stands.is === 'not-shown') return null;
  const all = steps(criterion);
  if (stands.is === 'between') return { is: 'level', level: stands.lower };
  const at = all.findIndex((s) => s.is === 'level' && s.level === stands.level);
  return all[at + 1] ?? all[at - 1] ?? null;
}
