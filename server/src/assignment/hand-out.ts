import type { AssignmentId, CopyId, PersonId, VersionId } from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import { type House, newId } from '../house.ts';

/**
 * Gives each of these students a copy, all in one go: one row a copy and one for each of its worksheets; no bytes are stored
 * again. Who has a copy already keeps it. Gives the copies by student.
 */
export async function handOut(
  house: House,
  tx: EntityManager,
  assignmentId: AssignmentId,
  students: readonly PersonId[],
): Promise<Map<PersonId, CopyId>> {
  const have: { student_id: PersonId; id: CopyId }[] = await tx.query(
    'SELECT student_id, id FROM copy WHERE assignment_id = ?',
    [assignmentId],
  );
  const copies = new Map(have.map((c) => [c.student_id, c.id]));
  const fresh = students.filter((s) => !copies.has(s)).map((s) => [newId<CopyId>(house), s] as const);
  if (fresh.length === 0) return copies;
  await tx.query('INSERT INTO copy (id, assignment_id, student_id) VALUES ?', [
    fresh.map(([copy, student]) => [copy, assignmentId, student]),
  ]);
  const versions: { version_id: VersionId }[] = await tx.query(
    `SELECT version_id FROM material WHERE assignment_id = ? AND kind = 'worksheet' ORDER BY position`,
    [assignmentId],
  );
  if (versions.length)
    await tx.query('INSERT INTO copy_sheet (copy_id, position, version_id) VALUES ?', [
      fresh.flatMap(([copy]) => versions.map((v, i) => [copy, i, v.version_id])),
    ]);
  for (const [copy, student] of fresh) copies.set(student, copy);
  return copies;
}

/** Who is in the class now. */
export async function studentsIn(tx: Pick<EntityManager, 'query'>, classId: string): Promise<PersonId[]> {
  const rows: { person_id: PersonId }[] = await tx.query(
    `SELECT person_id FROM membership WHERE class_id = ? AND role = 'student' AND left_at IS NULL`,
    [classId],
  );
  return rows.map((r) => r.person_id);
}

/** A student who joins, or comes back, gets a copy of all that was set for everyone and is not put away. */
export async function handOutTo(
  house: House,
  tx: EntityManager,
  classId: string,
  students: readonly PersonId[],
): Promise<void> {
  const set: { id: AssignmentId }[] = await tx.query(
    'SELECT id FROM assignment WHERE class_id = ? AND opens_at IS NOT NULL AND for_all = 1 AND put_away_at IS NULL',
    [classId],
  );
  for (const { id } of set) await handOut(house, tx, id, students);
}
