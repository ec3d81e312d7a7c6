import { formatPoints } from '../points/points.ts';
import { shield } from '../table/shield.ts';
import type { Criterion, Rubric } from './rubric.ts';

/** A rubric as a table that `readGrid` reads back: levels as heads where all criteria have the same, else each with its name and points in its cell. */
export function writeGrid(rubric: Pick<Rubric, 'criteria'>, name: string): string[][] {
  const { criteria } = rubric;
  const first = criteria[0]!;
  const alike = criteria.every((c) => sameLevels(c, first));
  const width = Math.max(...criteria.map((c) => c.levels.length));
  const heads = alike
    ? first.levels.map((l) => withPoints(l.name, l.points))
    : Array.from({ length: width }, (_, i) => `Level ${i + 1}`);
  const lines = criteria.map((c) => [
    c.name,
    formatPoints(c.weight),
    ...Array.from({ length: width }, (_, i) => {
      const level = c.levels[i];
      if (!level) return '';
      if (alike) return level.descriptor;
      const head = withPoints(level.name, level.points);
      return level.descriptor ? `${head}: ${level.descriptor}` : head;
    }),
  ]);
  return [...(name ? [[name]] : []), ['Criterion', 'Weight', ...heads], ...lines].map((l) => l.map(shield));
}

const withPoints = (name: string, points: number | null): string =>
  points === null ? name : `${name} (${formatPoints(points)})`.trim();

const sameLevels = (a: Criterion, b: Criterion): boolean =>
  a.levels.length === b.levels.length &&
  a.levels.every((l, i) => l.name === b.levels[i]!.name && l.points === b.levels[i]!.points);
