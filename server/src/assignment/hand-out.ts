import type { AssignmentId, ClassId, CopyId, PersonId } from '@jotmark/core';
import { IsNull, Not } from 'typeorm';
import {
  AssignmentTable,
  CopyMemberTable,
  CopyTable,
  MaterialTable,
  MembershipTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { type House, newId } from '../house.ts';

/**
 * Gives each of these students a copy, all in one go: one row a copy, one for whose it is and one for each of its worksheets; no bytes are stored
 * again. The members of a group get one for all of them. Who has a copy already keeps it. Gives the copies by student.
 */
export async function handOut(
  house: House,
  tx: Db,
  assignmentId: AssignmentId,
  students: readonly PersonId[],
  groups: readonly (readonly PersonId[])[] = [],
): Promise<Map<PersonId, CopyId>> {
  const copies = await copiesOf(tx, assignmentId);
  const copyOf = new Map<PersonId, CopyId>();
  for (const group of groups) {
    const shared = newId<CopyId>(house);
    for (const member of group) copyOf.set(member, shared);
  }
  const fresh = [...new Set(students)]
    .filter((s) => !copies.has(s))
    .map((s) => [copyOf.get(s) ?? newId<CopyId>(house), s] as const);
  if (fresh.length === 0) return copies;
  const sheets = await tx.getRepository(MaterialTable).find({
    where: { assignmentId, kind: 'worksheet', versionId: Not(IsNull()) },
    order: { position: 'ASC' },
  });
  await insertCopies(
    tx,
    assignmentId,
    fresh,
    sheets.map((m) => m.versionId!),
  );
  for (const [copy, student] of fresh) copies.set(student, copy);
  return copies;
}

/** Who has a copy of an assignment, and which: found by its copies, for the members' own key begins with the person. */
export async function copiesOf(db: Db, assignmentId: AssignmentId): Promise<Map<PersonId, CopyId>> {
  const rows = await pick(
    db
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin(CopyMemberTable.table, 'cm', 'cm.copyId = c.id')
      .where('c.assignmentId = :assignmentId', { assignmentId }),
    { personId: col('cm.personId', as.id<PersonId>()), copyId: col('c.id', as.id<CopyId>()) },
  );
  return new Map(rows.map((r) => [r.personId, r.copyId]));
}

/**
 * Raw: a thousand rows in one statement each; the query builder takes longer to write them than the database (bench: handing out 1,000 copies).
 * The connection keeps their order; while the database works on one the next is being written.
 */
async function insertCopies(
  tx: Db,
  assignmentId: AssignmentId,
  fresh: readonly (readonly [CopyId, PersonId])[],
  versions: readonly string[],
): Promise<void> {
  const ids = [...new Set(fresh.map(([copy]) => copy))];
  await Promise.all([
    tx.query('INSERT INTO copy (id, assignment_id) VALUES ?', [ids.map((copy) => [copy, assignmentId])]),
    tx.query('INSERT INTO copy_member (copy_id, person_id, assignment_id) VALUES ?', [
      fresh.map(([copy, student]) => [copy, student, assignmentId]),
    ]),
    versions.length > 0 &&
      tx.query('INSERT INTO copy_sheet (copy_id, position, version_id) VALUES ?', [
        ids.flatMap((copy) => versions.map((version, i) => [copy, i, version])),
      ]),
  ]);
}

/** Who is in the class now. */
export async function studentsIn(tx: Db, classId: ClassId): Promise<PersonId[]> {
  const rows = await tx
    .getRepository(MembershipTable)
    .find({ where: { classId, role: 'student', leftAt: IsNull() } });
  return rows.map((r) => r.personId);
}

/** A student who joins, or comes back, gets a copy of all that was set for everyone and is not put away. */
export async function handOutTo(
  house: House,
  tx: Db,
  classId: ClassId,
  students: readonly PersonId[],
): Promise<void> {
  const set = await tx
    .getRepository(AssignmentTable)
    .find({ where: { classId, opensAt: Not(IsNull()), forAll: true, putAwayAt: IsNull() } });
  for (const { id } of set) await handOut(house, tx, id, students);
}
