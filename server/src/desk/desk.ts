import type { CopyId, Desk, DocumentState, HandInId } from '@jotmark/core';
import { HEAD_COLUMNS, headOf } from '../assignment/head.ts';
import { documentsOf } from '../document/document.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { BLIND_COLUMN, blindFileName, shownStudent } from '../people/blind.ts';
import { readMarking } from '../marking/state.ts';

/** Names of files tell whose they are. */
export function blindNames(blind: boolean, documents: DocumentState[]): DocumentState[] {
  return blind ? documents.map((d, i) => ({ ...d, name: blindFileName(d.name, i) })) : documents;
}

/** All that the desk shows of one copy: its newest hand-in and the marking of it. */
export async function openDesk(house: House, copyId: CopyId): Promise<Desk> {
  const [row] = await house.db.query(
    `SELECT ${HEAD_COLUMNS}, c.id AS copy_id, ${BLIND_COLUMN}, c.due_at AS own_due, p.given, p.family, h.id AS hand_in_id, h.number, h.handed_in_at, h.claimed_at, h.late_ms, b.id AS back_id, m.left_at
     FROM copy c JOIN assignment a ON a.id = c.assignment_id JOIN school_class k ON k.id = a.class_id JOIN person p ON p.id = c.student_id
     JOIN hand_in h ON h.copy_id = c.id LEFT JOIN hand_back b ON b.hand_in_id = h.id LEFT JOIN marking m ON m.hand_in_id = h.id
     WHERE c.id = ? ORDER BY h.number DESC LIMIT 1`,
    [copyId],
  );
  if (!row) throw new Fault('not-found');
  const handInId = row.hand_in_id as HandInId;
  return {
    copyId,
    assignment: headOf(row, row.own_due),
    student: shownStudent(row),
    handIn: {
      id: handInId,
      number: row.number,
      handedInAt: row.handed_in_at.getTime(),
      late: Number(row.late_ms),
      claimedAt: row.claimed_at?.getTime() ?? null,
    },
    handedBack: row.back_id !== null,
    documents: blindNames(Number(row.is_blind) > 0, await documentsOf(house, handInId)),
    marking: await readMarking(house.db, handInId),
    leftAt: row.left_at ?? 0,
  };
}
