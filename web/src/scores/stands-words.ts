import { type Criterion, type CriterionScore, doubledPoints, formatPoints, levelsOf } from '@jotmark/core';

/** How a level is called on its key: its points, else its name. */
export const levelSign = (level: Criterion['levels'][number], at: number): string =>
  level.points === null ? level.name || String(at + 1) : formatPoints(level.points);

/** Where somebody stands, in a few letters: "3½", "between Begins and Can", "not shown". */
export function standsWords(criterion: Criterion, score: CriterionScore | null): string {
  if (!score?.stands) return '';
  if (score.stands.is === 'not-shown') return 'not shown';
  const levels = levelsOf(criterion, score);
  if (levels.length === 0) return 'a level that is gone';
  const doubled = doubledPoints(criterion, score);
  if (doubled !== null) return doubled % 2 === 0 ? formatPoints(doubled / 2) : halfPoints(doubled);
  return levels.length === 2
    ? `between ${levels[0]!.name} and ${levels[1]!.name}`
    : levels[0]!.name || 'this level';
}

/** Half a hundredth is told as thousandths are: 3.125. */
const halfPoints = (doubled: number): string => String(doubled / 200);
