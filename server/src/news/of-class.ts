import type { AssignmentId, CopyId, PersonId } from '@jotmark/core';
import { AssignmentTable, CopyMemberTable, CopyTable, MembershipTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';

/** The teachers of a copy's class, and whose work it is. */
export async function teachersOfCopy(
  db: Db,
  copyId: CopyId,
): Promise<{ readonly assignmentId: AssignmentId; readonly teachers: PersonId[] } | null> {
  const rows = await pick(
    db
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin('c.assignment', 'a')
      .innerJoin(
        MembershipTable.table,
        'm',
        `m.classId = a.classId AND m.role = 'teacher' AND m.leftAt IS NULL`,
      )
      .where('c.id = :copyId', { copyId }),
    { assignmentId: col('a.id', as.id<AssignmentId>()), personId: col('m.personId', as.id<PersonId>()) },
  );
  return rows.length ? { assignmentId: rows[0]!.assignmentId, teachers: rows.map((r) => r.personId) } : null;
}

/** The students of these copies. */
export const studentsOfCopies = (db: Db, copyIds: readonly CopyId[]) =>
  pick(db.createQueryBuilder(CopyMemberTable, 'm').where('m.copyId IN (:...copyIds)', { copyIds }), {
    copyId: col('m.copyId', as.id<CopyId>()),
    personId: col('m.personId', as.id<PersonId>()),
  });

/** Students of the class who have a copy of an assignment that is open. */
export const studentsOfAssignment = (db: Db, assignmentId: AssignmentId) =>
  pick(
    db
      .createQueryBuilder(CopyMemberTable, 'm')
      .innerJoin('m.copy', 'c')
      .innerJoin(AssignmentTable.table, 'a', 'a.id = c.assignmentId')
      .innerJoin(
        MembershipTable.table,
        's',
        's.classId = a.classId AND s.personId = m.personId AND s.leftAt IS NULL',
      )
      .where('m.assignmentId = :assignmentId', { assignmentId }),
    {
      copyId: col('m.copyId', as.id<CopyId>()),
      personId: col('m.personId', as.id<PersonId>()),
      ownDue: col('c.dueAt', as.maybe(as.moment)),
    },
  );
