import type { CopyId } from '@jotmark/core';
import { inTransaction } from '../database/transaction.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { hintCopy } from '../live/hint.ts';

/**
 * The student reopens a copy that nobody has begun to mark: the hand-in leaves the pile and is kept among the taken-back
 * ones. Asks only whether a marking exists, under a lock, so that marking and taking back cannot both come first.
 */
export async function takeBack(house: House, copyId: CopyId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await tx.query('SELECT id FROM copy WHERE id = ? FOR UPDATE', [copyId]);
    const [last] = await tx.query(
      'SELECT id, number, handed_in_at, content FROM hand_in WHERE copy_id = ? ORDER BY number DESC LIMIT 1 FOR UPDATE',
      [copyId],
    );
    if (!last) throw new Fault('not-handed-in');
    const back = await tx.query('SELECT 1 FROM hand_back WHERE hand_in_id = ?', [last.id]);
    if (back.length) throw new Fault('not-handed-in');
    const begun = await tx.query('SELECT 1 FROM marking WHERE hand_in_id = ? FOR UPDATE', [last.id]);
    if (begun.length) {
      const [who] = await tx.query(
        `SELECT GROUP_CONCAT(CONCAT(p.given, ' ', p.family) ORDER BY p.family SEPARATOR ', ') AS names FROM copy c
           JOIN assignment a ON a.id = c.assignment_id JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher'
           JOIN person p ON p.id = m.person_id WHERE c.id = ?`,
        [copyId],
      );
      throw new Fault('marking-begun', { whom: who?.names ?? '' });
    }
    const documents = await tx.query(
      'SELECT document_id FROM hand_in_document WHERE hand_in_id = ? ORDER BY position',
      [last.id],
    );
    await tx.query(
      'INSERT INTO taken_back (id, copy_id, number, handed_in_at, taken_back_at, content, documents) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        last.id,
        copyId,
        last.number,
        last.handed_in_at,
        new Date(house.now()),
        last.content,
        JSON.stringify(documents.map((d: { document_id: string }) => d.document_id)),
      ],
    );
    await tx.query('DELETE FROM hand_in_document WHERE hand_in_id = ?', [last.id]);
    await tx.query('DELETE FROM hand_in WHERE id = ?', [last.id]);
    await hintCopy(tx, copyId, 'hand-in', new Date(house.now()));
  });
}
