import {
  type AssignmentId,
  type ChangeId,
  type CopyId,
  type Evening,
  type EveningChange,
  type EveningId,
  evenGrade,
  gradeOf,
  type MarkingChange,
  type Person,
} from '@jotmark/core';
import { AssignmentTable, EveningTable, HandInTable, MarkingTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find, insert, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import type { Marked } from '../marking/lock.ts';
import { takeChanges } from '../marking/take-changes.ts';
import { readScoringOf } from './scoring-of.ts';

interface Graded {
  readonly copyId: CopyId;
  readonly of: Marked;
  readonly typed: number | null;
  readonly grade: number | null;
  readonly version: ChangeId | null;
}

/** The markings in which these copies are graded now: of their newest hand-in, or of none. */
async function graded(db: Db, assignmentId: AssignmentId, copyIds: readonly CopyId[]): Promise<Graded[]> {
  const rows = await db
    .createQueryBuilder(MarkingTable, 'm')
    .innerJoin('m.copy', 'c')
    .where('c.assignmentId = :assignmentId AND c.id IN (:...copyIds)', { assignmentId, copyIds })
    .andWhere(
      `m.number = COALESCE((SELECT MAX(h.number) FROM ${HandInTable.options.tableName} h WHERE h.copy_id = c.id), 0)`,
    )
    .getMany();
  return rows.map((m) => ({
    copyId: m.copyId,
    of: m.handInId ? { handInId: m.handInId } : { copyId: m.copyId },
    typed: m.grade,
    grade: gradeOf(m.grade, m.computed),
    version: m.gradeVersion,
  }));
}

const written = (
  id: ChangeId,
  base: ChangeId | null,
  was: number | null,
  value: number | null,
): MarkingChange => ({
  id,
  base,
  type: 'write',
  field: 'grade',
  value,
  was,
});

async function writeAll(
  house: House,
  person: Person,
  all: readonly { readonly of: Marked; readonly change: MarkingChange }[],
): Promise<{ changed: number; kept: number }> {
  let changed = 0;
  for (const { of, change } of all) {
    const { results } = await takeChanges(house, person, of, [change]);
    if (results[0]!.outcome === 'applied' || results[0]!.outcome === 'already') changed++;
  }
  return { changed, kept: all.length - changed };
}

/**
 * Evens the grades of these copies out: each gets what comes of it typed over what was computed. What is done and why is kept first, so that it can be undone
 * whatever happens in between; copies handed back, or graded anew in the same moment, stay as they are.
 */
export async function evenOut(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  what: { readonly evening: Evening; readonly copyIds: readonly CopyId[]; readonly reason: string },
): Promise<{ changed: number; kept: number }> {
  const db = house.db.manager;
  const a = await find(db, AssignmentTable, { id: assignmentId });
  if (!a || a.most === null) throw new Fault('nothing-scored');
  const { scoring } = await readScoringOf(db, assignmentId, house.now());
  const plan = (await graded(db, assignmentId, what.copyIds)).flatMap((g) => {
    if (g.grade === null) return [];
    const to = evenGrade(g.grade, a.most!, what.evening, scoring.rounding);
    return to === g.grade ? [] : [{ ...g, to, change: newId<ChangeId>(house) }];
  });
  if (plan.length === 0) throw new Fault('nothing-scored');
  await insert(db, EveningTable, {
    id: newId<EveningId>(house),
    assignmentId,
    byId: person.id,
    at: house.now(),
    how: what.evening,
    reason: what.reason,
    changes: plan.map(
      ({ copyId, change, typed, to }): EveningChange => ({ copyId, change, from: typed, to }),
    ),
    undoneAt: null,
  });
  return writeAll(
    house,
    person,
    plan.map((p) => ({ of: p.of, change: written(p.change, p.version, p.typed, p.to) })),
  );
}

/** Takes it back where its grades still stand; what was typed since stays. */
export async function undoEvening(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  id: EveningId,
): Promise<{ changed: number; kept: number }> {
  const db = house.db.manager;
  const evening = await find(db, EveningTable, { id, assignmentId });
  if (!evening || evening.undoneAt !== null) throw new Fault('not-found');
  const now = new Map(
    (
      await graded(
        db,
        assignmentId,
        evening.changes.map((c) => c.copyId),
      )
    ).map((g) => [g.copyId, g]),
  );
  const back = evening.changes.flatMap(({ copyId, change, from, to }) => {
    const g = now.get(copyId);
    return g?.version === change
      ? [{ of: g.of, change: written(newId<ChangeId>(house), change, to, from) }]
      : [];
  });
  const { changed } = await writeAll(house, person, back);
  await update(db, EveningTable, { id }, { undoneAt: house.now() });
  return { changed, kept: evening.changes.length - changed };
}
