import type { AssignmentId, ClassId, CopyId, PersonId } from '@jotmark/core';
import { type House, newId } from '../house.ts';

/** A class with its teacher and its students. */
export async function addClass(
  house: House,
  about: { name: string; unit: string; teachers: readonly PersonId[]; students: readonly PersonId[] },
): Promise<ClassId> {
  const id = newId<ClassId>(house);
  await house.db.transaction(async (tx) => {
    await tx.query('INSERT INTO school_class (id, name, unit, created_at) VALUES (?, ?, ?, ?)', [
      id,
      about.name,
      about.unit,
      new Date(house.now()),
    ]);
    const rows = [
      ...about.teachers.map((p) => [id, p, 'teacher']),
      ...about.students.map((p) => [id, p, 'student']),
    ];
    await tx.query('INSERT INTO membership (class_id, person_id, role) VALUES ?', [rows]);
  });
  return id;
}

/** Sets an assignment for a class and makes a copy for each of its students. Gives the copies by student. */
export async function setAssignment(
  house: House,
  about: { classId: ClassId; title: string; instructions: string; dueAt: number | null; most: number | null },
): Promise<{ id: AssignmentId; copies: Map<PersonId, CopyId> }> {
  const id = newId<AssignmentId>(house);
  const copies = new Map<PersonId, CopyId>();
  await house.db.transaction(async (tx) => {
    await tx.query(
      'INSERT INTO assignment (id, class_id, title, instructions, due_at, most, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        id,
        about.classId,
        about.title,
        about.instructions,
        about.dueAt === null ? null : new Date(about.dueAt),
        about.most,
        new Date(house.now()),
      ],
    );
    const students: { person_id: PersonId }[] = await tx.query(
      `SELECT person_id FROM membership WHERE class_id = ? AND role = 'student'`,
      [about.classId],
    );
    for (const { person_id } of students) copies.set(person_id, newId<CopyId>(house));
    if (copies.size)
      await tx.query('INSERT INTO copy (id, assignment_id, student_id) VALUES ?', [
        [...copies].map(([person, copy]) => [copy, id, person]),
      ]);
  });
  return { id, copies };
}
