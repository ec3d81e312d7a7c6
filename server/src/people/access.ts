import type { Person } from '@jotmark/core';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';

/**
 * Who may see this very thing. Each question is one query; no row means 'not-found' to everyone, so that ids tell
 * nothing to those who may not see what they name.
 */
const mustHave = (rows: unknown[]): void => {
  if (rows.length === 0) throw new Fault('not-found');
};

export async function teachesClass(house: House, person: Person, classId: string): Promise<void> {
  mustHave(
    await house.db.query(
      `SELECT 1 FROM membership m WHERE m.class_id = ? AND m.role = 'teacher' AND m.person_id = ?`,
      [classId, person.id],
    ),
  );
}

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

/** A student's own copy, from the moment its assignment opens: before that it is not there. */
export async function ownsCopy(house: House, person: Person, copyId: string): Promise<void> {
  mustHave(
    await house.db.query(
      'SELECT 1 FROM copy c JOIN assignment a ON a.id = c.assignment_id WHERE c.id = ? AND c.student_id = ? AND a.opens_at <= ?',
      [copyId, person.id, new Date(house.now())],
    ),
  );
}

/** The conversation on a copy is its student's and the class's teachers'. */
export async function sharesCopy(house: House, person: Person, copyId: string): Promise<void> {
  return person.role === 'teacher' ? teachesCopy(house, person, copyId) : ownsCopy(house, person, copyId);
}

/** A worksheet is its maker's, and of those who teach a class in which it was set. */
export async function maySeeWorksheet(house: House, person: Person, worksheetId: string): Promise<void> {
  mustHave(
    await house.db.query(
      `SELECT 1 FROM worksheet w WHERE w.id = ? AND (w.owner_id = ? OR EXISTS (
         SELECT 1 FROM worksheet_version v JOIN material x ON x.version_id = v.id JOIN assignment a ON a.id = x.assignment_id
           JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' AND m.person_id = ? WHERE v.worksheet_id = w.id))`,
      [worksheetId, person.id, person.id],
    ),
  );
}

/**
 * A student sees the documents of their own copies: what they added, the clean worksheets, what there is to look at. A teacher
 * sees what was handed in to them, what they own, and what belongs to assignments of their classes.
 */
export async function maySeeDocument(house: House, person: Person, documentId: string): Promise<void> {
  mustHave(
    person.role === 'student'
      ? await house.db.query(
          `SELECT 1 FROM document d JOIN copy c ON c.id = d.copy_id WHERE d.id = ? AND c.student_id = ?
           UNION SELECT 1 FROM worksheet_version v JOIN copy_sheet s ON s.version_id = v.id JOIN copy c ON c.id = s.copy_id
             JOIN assignment a ON a.id = c.assignment_id WHERE v.document_id = ? AND c.student_id = ? AND a.opens_at <= ?
           UNION SELECT 1 FROM material x JOIN assignment a ON a.id = x.assignment_id JOIN copy c ON c.assignment_id = a.id
             WHERE x.document_id = ? AND c.student_id = ? AND a.opens_at <= ?`,
          [
            documentId,
            person.id,
            documentId,
            person.id,
            new Date(house.now()),
            documentId,
            person.id,
            new Date(house.now()),
          ],
        )
      : await house.db.query(
          `SELECT 1 FROM document d WHERE d.id = ? AND d.owner_id = ?
           UNION SELECT 1 FROM hand_in_document h JOIN hand_in i ON i.id = h.hand_in_id JOIN copy c ON c.id = i.copy_id
             JOIN assignment a ON a.id = c.assignment_id
             JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE h.document_id = ? AND m.person_id = ?
           UNION SELECT 1 FROM worksheet_version v JOIN copy_sheet s ON s.version_id = v.id JOIN copy c ON c.id = s.copy_id
             JOIN assignment a ON a.id = c.assignment_id
             JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE v.document_id = ? AND m.person_id = ?
           UNION SELECT 1 FROM material x LEFT JOIN worksheet_version v ON v.id = x.version_id JOIN assignment a ON a.id = x.assignment_id
             JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher'
             WHERE (x.document_id = ? OR v.document_id = ?) AND m.person_id = ?`,
          [
            documentId,
            person.id,
            documentId,
            person.id,
            documentId,
            person.id,
            documentId,
            documentId,
            person.id,
          ],
        ),
  );
}
