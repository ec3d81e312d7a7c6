import type { CriterionId, LevelId } from '../ids/id.ts';
import type { DraftCriterion } from './read-grid.ts';
import type { Criterion, Level, Rubric } from './rubric.ts';

/** A draft with ids of its own. `newId` gives a new one each time. */
export function rubricOf(criteria: readonly DraftCriterion[], newId: () => string): Rubric {
  return {
    v: 1,
    criteria: criteria.map((c) => ({
      id: newId() as CriterionId,
      name: c.name,
      weight: c.weight,
      levels: c.levels.map((l): Level => ({ ...l, id: newId() as LevelId })),
    })),
  };
}

/** A rubric to begin with: four levels, and one criterion to be named. */
export function newRubric(newId: () => string): Rubric {
  const levels = ['Not yet', 'Begins', 'Can', 'Can well'].map((name, i) => ({
    name,
    descriptor: '',
    points: (i + 1) * 100,
  }));
  return rubricOf([{ name: 'First criterion', weight: 100, levels }], newId);
}

/** The same rubric under ids of its own: what is scored with one says nothing about the other. */
export const duplicateRubric = (rubric: Rubric, newId: () => string): Rubric =>
  rubricOf(rubric.criteria, newId);

/** What students should hear of when a rubric changes: names, levels, points or weights. Null: nothing they would notice. */
export function whatChanged(
  was: Rubric,
  now: Rubric,
): { added: string[]; gone: string[]; changed: string[] } | null {
  const before = new Map<CriterionId, Criterion>(was.criteria.map((c) => [c.id, c]));
  const after = new Map<CriterionId, Criterion>(now.criteria.map((c) => [c.id, c]));
  const added = now.criteria.filter((c) => !before.has(c.id)).map((c) => c.name);
  const gone = was.criteria.filter((c) => !after.has(c.id)).map((c) => c.name);
  const changed = now.criteria
    .filter((c) => before.has(c.id) && JSON.stringify(before.get(c.id)) !== JSON.stringify(c))
    .map((c) => c.name);
  return added.length + gone.length + changed.length ? { added, gone, changed } : null;
}
