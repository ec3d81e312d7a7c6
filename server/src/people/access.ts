import type { Person } from '@jotmark/core';
import type { House } from '../house.ts';
import { Fault } from '../http/fault.ts';

/**
 * Who may see this very thing. Each question is one query; no row means 'not-found' to everyone, so that ids tell
 * nothing to those who may not see what they name.
 */
const mustHave = (rows: unknown[]): void => {
  if (rows.length === 0) throw new Fault('not-found');
};

export async function teachesAssignment(house: House, person: Person, assignmentId: string): Promise<void> {
  mustHave(
    await house.db.query(
      `SELECT 1 FROM assignment a JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE a.id = ? AND m.person_id = ?`,
      [assignmentId, person.id],
    ),
  );
}

export async function teachesCopy(house: House, person: Person, copyId: string): Promise<void> {
  mustHave(
    await house.db.query(
      `SELECT 1 FROM copy c JOIN assignment a ON a.id = c.assignment_id
       JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE c.id = ? AND m.person_id = ?`,
      [copyId, person.id],
    ),
  );
}

export async function ownsCopy(house: House, person: Person, copyId: string): Promise<void> {
  mustHave(await house.db.query('SELECT 1 FROM copy WHERE id = ? AND student_id = ?', [copyId, person.id]));
}

/** A student's own document; for a teacher one that was handed in to them. */
export async function maySeeDocument(house: House, person: Person, documentId: string): Promise<void> {
  mustHave(
    person.role === 'student'
      ? await house.db.query(
          'SELECT 1 FROM document d JOIN copy c ON c.id = d.copy_id WHERE d.id = ? AND c.student_id = ?',
          [documentId, person.id],
        )
      : await house.db.query(
          `SELECT 1 FROM document d JOIN hand_in_document h ON h.document_id = d.id JOIN copy c ON c.id = d.copy_id
           JOIN assignment a ON a.id = c.assignment_id
           JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE d.id = ? AND m.person_id = ?`,
          [documentId, person.id],
        ),
  );
}
