import { type CopyId, type DocumentId, type HandInId, lateBy } from '@jotmark/core';
import { inTransaction } from '../database/transaction.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../http/fault.ts';

/**
 * Freezes what lies ready on a copy as its next hand-in, once. Handing in the same document again gives the hand-in that
 * exists: a request sent twice counts once. While a hand-in is with the teacher there is no second one.
 */
export async function handIn(house: House, copyId: CopyId, documentId: DocumentId): Promise<HandInId> {
  return inTransaction(house.db, async (tx) => {
    const [copy] = await tx.query(
      `SELECT c.ready_document_id, COALESCE(c.due_at, a.due_at) AS due_at FROM copy c JOIN assignment a ON a.id = c.assignment_id
       WHERE c.id = ? FOR UPDATE`,
      [copyId],
    );
    const [last] = await tx.query(
      `SELECT h.id, h.number, b.id AS back_id,
         (SELECT d.document_id FROM hand_in_document d WHERE d.hand_in_id = h.id AND d.position = 0) AS document_id
       FROM hand_in h LEFT JOIN hand_back b ON b.hand_in_id = h.id WHERE h.copy_id = ? ORDER BY h.number DESC LIMIT 1`,
      [copyId],
    );
    if (last?.document_id === documentId) return last.id;
    if (last && !last.back_id) throw new Fault('already-handed-in');
    if (copy.ready_document_id !== documentId) throw new Fault('nothing-to-hand-in');
    const now = house.now();
    const id = newId<HandInId>(house);
    await tx.query(
      'INSERT INTO hand_in (id, copy_id, number, handed_in_at, late_ms) VALUES (?, ?, ?, ?, ?)',
      [id, copyId, (last?.number ?? 0) + 1, new Date(now), lateBy(copy.due_at?.getTime() ?? null, now)],
    );
    await tx.query('INSERT INTO hand_in_document (hand_in_id, position, document_id) VALUES (?, 0, ?)', [
      id,
      documentId,
    ]);
    await tx.query('UPDATE copy SET ready_document_id = NULL WHERE id = ?', [copyId]);
    return id;
  });
}
