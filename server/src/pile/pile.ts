import { type AssignmentId, type Pile, type PileRow, placeOf } from '@jotmark/core';
import { HEAD_COLUMNS, headOf } from '../assignment/head.ts';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';
import { Fault } from '../http/fault.ts';
import { PROGRESS_COLUMNS, progressOf } from '../jobs/queue.ts';

/** What `rowOf` reads of every copy `c`: its newest hand-in `h`, that one's marking `m`, and hand-backs. */
export const COPY_COLUMNS = `c.id AS copy_id, p.given, p.family, COALESCE(c.due_at, a.due_at) AS due, h.number, h.handed_in_at, h.late_ms,
  m.hand_in_id AS marking_id, m.done, m.grade, d.pages, d.id AS document_id, ${PROGRESS_COLUMNS},
  (SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id) AS handed_back`;
export const COPY_FROM = `copy c JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id
  LEFT JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)
  LEFT JOIN marking m ON m.hand_in_id = h.id
  LEFT JOIN hand_in_document hd ON hd.hand_in_id = h.id AND hd.position = 0 LEFT JOIN document d ON d.id = hd.document_id
  LEFT JOIN job j ON j.kind = 'read-document' AND j.subject = d.id`;

export function rowOf(r: RawRow, now: number): PileRow {
  const place = placeOf({
    handIns: r.number ?? 0,
    handedBack: r.handed_back ?? 0,
    marking: r.marking_id ? { done: Boolean(r.done) } : null,
  });
  return {
    copyId: r.copy_id,
    student: { given: r.given, family: r.family },
    place,
    handedInAt: r.handed_in_at?.getTime() ?? null,
    late: Number(r.late_ms ?? 0),
    overdue: place === 'with-student' && r.due !== null && r.due.getTime() < now,
    handInNumber: r.number ?? 0,
    grade: r.grade ?? null,
    pages: r.pages ?? null,
    reading: r.document_id ? progressOf(r) : null,
  };
}

/** All copies of one assignment, by the students' names. */
export async function readPile(house: House, assignmentId: AssignmentId): Promise<Pile> {
  const [head] = await house.db.query(
    `SELECT ${HEAD_COLUMNS} FROM assignment a JOIN school_class k ON k.id = a.class_id WHERE a.id = ?`,
    [assignmentId],
  );
  if (!head) throw new Fault('not-found');
  const rows = await house.db.query(
    `SELECT ${COPY_COLUMNS} FROM ${COPY_FROM} WHERE c.assignment_id = ? ORDER BY p.family, p.given, c.id`,
    [assignmentId],
  );
  const now = house.now();
  return { assignment: headOf(head), rows: rows.map((r: RawRow) => rowOf(r, now)) };
}
