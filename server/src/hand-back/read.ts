import { type HandBackShape, type Person, Snapshot } from '@jotmark/core';
import { documentsOf } from '../document/document.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';

/** The newest hand-back of a copy, as it was frozen; null before there is one. Reads nothing of any marking. */
export async function newestHandBack(house: House, copyId: string): Promise<HandBackShape | null> {
  const [row] = await house.db.query(
    `SELECT b.id, b.hand_in_id, b.handed_back_at, b.content, h.number FROM hand_back b JOIN hand_in h ON h.id = b.hand_in_id
     WHERE b.copy_id = ? ORDER BY h.number DESC LIMIT 1`,
    [copyId],
  );
  if (!row) return null;
  return {
    id: row.id,
    handInNumber: row.number,
    handedBackAt: row.handed_back_at.getTime(),
    snapshot: Snapshot.parse(JSON.parse(row.content)),
    documents: await documentsOf(house, row.hand_in_id),
  };
}

/** A hand-back that belongs to this student, or 'not-found'. */
export async function ownHandBack(house: House, person: Person, handBackId: string): Promise<void> {
  const rows = await house.db.query(
    'SELECT 1 FROM hand_back b JOIN copy c ON c.id = b.copy_id WHERE b.id = ? AND c.student_id = ?',
    [handBackId, person.id],
  );
  if (rows.length === 0) throw new Fault('not-found');
}
