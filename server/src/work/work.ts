import { type CopyId, type Person, placeForStudent, type Work, type WorkRow } from '@jotmark/core';
import { HEAD_COLUMNS, headOf } from '../assignment/head.ts';
import type { RawRow } from '../database/raw.ts';
import { documentState, documentsOf } from '../documents/document.ts';
import { newestHandBack } from '../handback/read.ts';
import type { House } from '../house.ts';
import { Fault } from '../http/fault.ts';

/**
 * The student's side. It knows hand-ins and hand-backs and nothing of what lies between: no table of the
 * marking is named here.
 */
const COLUMNS = `${HEAD_COLUMNS}, c.id AS copy_id, c.due_at AS own_due, c.ready_document_id, a.instructions, p.given, p.family,
  h.id AS hand_in_id, h.number, h.handed_in_at, h.late_ms,
  (SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id) AS handed_back,
  (SELECT MAX(b.handed_back_at) FROM hand_back b WHERE b.copy_id = c.id) AS handed_back_at`;
const FROM = `copy c JOIN assignment a ON a.id = c.assignment_id JOIN school_class k ON k.id = a.class_id JOIN person p ON p.id = c.student_id
  LEFT JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)`;

function rowOf(r: RawRow, now: number): WorkRow {
  const assignment = headOf(r, r.own_due);
  const place = placeForStudent({ handIns: r.number ?? 0, handedBack: r.handed_back ?? 0 });
  return {
    copyId: r.copy_id,
    assignment,
    place,
    late: Number(r.late_ms ?? 0),
    overdue: place === 'with-student' && assignment.dueAt !== null && assignment.dueAt < now,
    handedInAt: r.handed_in_at?.getTime() ?? null,
    handedBackAt: r.handed_back_at?.getTime() ?? null,
  };
}

export async function workList(house: House, person: Person): Promise<WorkRow[]> {
  const rows = await house.db.query(
    `SELECT ${COLUMNS} FROM ${FROM} WHERE c.student_id = ? ORDER BY COALESCE(c.due_at, a.due_at, '9999-01-01'), a.title LIMIT 500`,
    [person.id],
  );
  const now = house.now();
  return rows.map((r: RawRow) => rowOf(r, now));
}

export async function readWork(house: House, copyId: CopyId): Promise<Work> {
  const [row] = await house.db.query(`SELECT ${COLUMNS} FROM ${FROM} WHERE c.id = ?`, [copyId]);
  if (!row) throw new Fault('not-found');
  return {
    row: rowOf(row, house.now()),
    instructions: row.instructions,
    student: { given: row.given, family: row.family },
    ready: row.ready_document_id ? await documentState(house, row.ready_document_id) : null,
    handIn: row.hand_in_id
      ? {
          id: row.hand_in_id,
          number: row.number,
          handedInAt: row.handed_in_at.getTime(),
          documents: await documentsOf(house, row.hand_in_id),
        }
      : null,
    handBack: await newestHandBack(house, copyId),
  };
}
