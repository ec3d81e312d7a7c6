import type { AssignmentHead, AssignmentId, AssignmentStage, CopyId } from '@jotmark/core';
import { AssignmentTable, CopyTable } from '../database/entities/index.ts';
import { as, col, type Db, pickOne, type RowOfPicks } from '../database/pick.ts';
import { Fault } from '../fault.ts';

/** What a head is made from, for a join of assignment `a` and school_class `k`. */
export const HEAD = {
  assignmentId: col('a.id', as.id<AssignmentId>()),
  title: col('a.title', as.text),
  className: col('k.name', as.text),
  dueAt: col('a.dueAt', as.maybe(as.moment)),
  most: col('a.most', as.maybe(as.int)),
} as const;

/** The head of an assignment; `ownDate` is a student's own due date where there is one. */
export function headOf(row: RowOfPicks<typeof HEAD>, ownDate: number | null = null): AssignmentHead {
  return {
    id: row.assignmentId,
    title: row.title,
    className: row.className,
    dueAt: ownDate ?? row.dueAt,
    most: row.most,
  };
}

/** The head of what a copy belongs to, with the date that holds for its student; null where there is no such copy. */
export async function headOfCopy(db: Db, copyId: CopyId): Promise<AssignmentHead | null> {
  const row = await pickOne(
    db
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin('c.assignment', 'a')
      .innerJoin('a.class', 'k')
      .where('c.id = :copyId', { copyId }),
    { ...HEAD, ownDue: col('c.dueAt', as.maybe(as.moment)) },
  );
  return row && headOf(row, row.ownDue);
}

/** Assignments `a` with their class `k`. */
export const assignmentsWithClass = (db: Db) =>
  db.createQueryBuilder(AssignmentTable, 'a').innerJoin('a.class', 'k');

/** An assignment as a page about it begins: its head, and how far it is open. */
export async function assignmentTop(
  db: Db,
  id: AssignmentId,
  now: number,
): Promise<{ assignment: AssignmentHead; stage: AssignmentStage; opensAt: number | null; blind: boolean }> {
  const row = await pickOne(assignmentsWithClass(db).where('a.id = :id', { id }), {
    ...HEAD,
    opensAt: col('a.opensAt', as.maybe(as.moment)),
    blind: col('a.blind', as.flag),
  });
  if (!row) throw new Fault('not-found');
  return {
    assignment: headOf(row),
    stage: stageOf(row.opensAt, now),
    opensAt: row.opensAt,
    blind: row.blind,
  };
}

/** Without a moment to open it is a draft; before that moment nobody but its teachers knows of it. */
export function stageOf(opensAt: number | null, now: number): AssignmentStage {
  if (opensAt === null) return 'draft';
  return opensAt > now ? 'upcoming' : 'open';
}
