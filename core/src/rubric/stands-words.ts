import { formatPoints } from '../points/points.ts';
import type { CriterionScore } from '../scores/score.ts';
import type { Criterion } from './rubric.ts';
import { doubledPoints, levelsOf } from './total.ts';

/** How a level is called on its key: its points, or its name where there is no grade and so no number. */
export const levelSign = (level: Criterion['levels'][number], at: number, numbers: boolean): string =>
  numbers && level.points !== null ? formatPoints(level.points) : level.name || `level ${at + 1}`;

/** Where somebody stands, in a few letters: "3½", "between Begins and Can", "not shown". */
export function standsWords(criterion: Criterion, score: CriterionScore | null, numbers: boolean): string {
  if (!score?.stands) return '';
  if (score.stands.is === 'not-shown') return 'not shown';
  const levels = levelsOf(criterion, score);
  if (levels.length === 0) return 'a level that is gone';
  const doubled = numbers ? doubledPoints(criterion, score) : null;
  if (doubled !== null) return doubled % 2 === 0 ? formatPoints(doubled / 2) : halfPoints(doubled);
  const names = levels.map((l) => levelSign(l, criterion.levels.indexOf(l), false));
  return names.length === 2 ? `between ${names[0]} and ${names[1]}` : names[0]!;
}

/** Half a hundredth is told as thousandths are: 3.125. */
const halfPoints = (doubled: number): string => String(doubled / 200);
