import type { Criterion, CriterionId, Level, LevelId, Rubric } from '@jotmark/core';
import { newId } from '../outbox/new-id.ts';

/** Whether all criteria have the same levels, by name and points: then they are the heads of the table. */
export function levelsAlike({ criteria }: Rubric): boolean {
  const [first, ...others] = criteria;
  return others.every(
    (c) =>
      c.levels.length === first!.levels.length &&
      c.levels.every((l, i) => l.name === first!.levels[i]!.name && l.points === first!.levels[i]!.points),
  );
}

const withCriteria = (rubric: Rubric, criteria: Criterion[]): Rubric => ({ ...rubric, criteria });
const withLevels = (c: Criterion, levels: Level[]): Criterion => ({ ...c, levels });

export const changeCriterion = (rubric: Rubric, at: number, to: Partial<Criterion>): Rubric =>
  withCriteria(
    rubric,
    rubric.criteria.map((c, i) => (i === at ? { ...c, ...to } : c)),
  );

/** Changes a level of one criterion, or of all where `at` is null. */
export const changeLevel = (rubric: Rubric, at: number | null, level: number, to: Partial<Level>): Rubric =>
  withCriteria(
    rubric,
    rubric.criteria.map((c, i) =>
      at === null || i === at
        ? withLevels(
            c,
            c.levels.map((l, n) => (n === level ? { ...l, ...to } : l)),
          )
        : c,
    ),
  );

const emptyLevel = (before: Level | undefined): Level => ({
  id: newId<LevelId>(),
  name: '',
  descriptor: '',
  points: before?.points === null ? null : (before?.points ?? 0) + 100,
});

/** A level more at the top, of one criterion or of all. */
export const addLevel = (rubric: Rubric, at: number | null): Rubric =>
  withCriteria(
    rubric,
    rubric.criteria.map((c, i) =>
      (at === null || i === at) && c.levels.length < 20
        ? withLevels(c, [...c.levels, emptyLevel(c.levels.at(-1))])
        : c,
    ),
  );

export const removeLevel = (rubric: Rubric, at: number | null, level: number): Rubric =>
  withCriteria(
    rubric,
    rubric.criteria.map((c, i) =>
      (at === null || i === at) && c.levels.length > 1
        ? withLevels(
            c,
            c.levels.filter((_, n) => n !== level),
          )
        : c,
    ),
  );

/** A criterion more, with levels like those of the last. */
export function addCriterion(rubric: Rubric): Rubric {
  const last = rubric.criteria.at(-1);
  const levels = (last?.levels ?? []).map((l) => ({ ...l, id: newId<LevelId>(), descriptor: '' }));
  const made: Criterion = { id: newId<CriterionId>(), name: 'New criterion', weight: 100, levels };
  return withCriteria(rubric, [...rubric.criteria, made]);
}

export const removeCriterion = (rubric: Rubric, at: number): Rubric =>
  rubric.criteria.length > 1
    ? withCriteria(
        rubric,
        rubric.criteria.filter((_, i) => i !== at),
      )
    : rubric;

export function moveCriterion(rubric: Rubric, at: number, by: -1 | 1): Rubric {
  const criteria = [...rubric.criteria];
  const [one] = criteria.splice(at, 1);
  if (!one || at + by < 0 || at + by > criteria.length) return rubric;
  criteria.splice(at + by, 0, one);
  return withCriteria(rubric, criteria);
}

/** Levels without points, as standards are; or with them again, counted from 1. */
export const setPoints = (rubric: Rubric, has: boolean): Rubric =>
  withCriteria(
    rubric,
    rubric.criteria.map((c) =>
      withLevels(
        c,
        c.levels.map((l, i) => ({ ...l, points: has ? (l.points ?? (i + 1) * 100) : null })),
      ),
    ),
  );
