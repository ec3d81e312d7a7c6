import {
  type CopyId,
  type DocumentId,
  freezeMarking,
  type HandBackId,
  type Person,
  type Turns,
} from '@jotmark/core';
import { inTransaction } from '../database/transaction.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';
import { readMarking, sheetOf } from '../marking/state.ts';

/**
 * Hands back all chosen copies that are marked, at once, in one transaction: each gets its marking frozen, and from then on
 * its student sees that. Those not marked stay. Handing back twice hands back once.
 */
export async function handBack(
  house: House,
  person: Person,
  assignmentId: string,
  copyIds: readonly CopyId[],
): Promise<{ handedBack: CopyId[]; kept: CopyId[] }> {
  return inTransaction(house.db, async (tx) => {
    const rows: {
      copy_id: CopyId;
      hand_in_id: string;
      done: number;
      back_id: string | null;
      most: number | null;
    }[] = await tx.query(
      `SELECT c.id AS copy_id, h.id AS hand_in_id, m.done, b.id AS back_id, a.most FROM copy c
         JOIN assignment a ON a.id = c.assignment_id
         JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)
         LEFT JOIN hand_back b ON b.hand_in_id = h.id
         JOIN marking m ON m.hand_in_id = h.id
       WHERE c.assignment_id = ? AND c.id IN (?) ORDER BY c.id FOR UPDATE`,
      [assignmentId, copyIds],
    );
    const ready = rows.filter((r) => r.done && !r.back_id);
    if (ready.length === 0) throw new Fault('nothing-marked');
    const now = new Date(house.now());
    for (const row of ready) {
      const snapshot = freezeMarking(sheetOf(await readMarking(tx, row.hand_in_id)), {
        most: row.most,
        markedBy: `${person.given} ${person.family}`,
        turns: await turnsIn(tx, row.hand_in_id),
      });
      await tx.query(
        'INSERT INTO hand_back (id, copy_id, hand_in_id, handed_back_at, by_id, content) VALUES (?, ?, ?, ?, ?, ?)',
        [newId<HandBackId>(house), row.copy_id, row.hand_in_id, now, person.id, JSON.stringify(snapshot)],
      );
    }
    const handedBack = ready.map((r) => r.copy_id);
    return { handedBack, kept: copyIds.filter((id) => !handedBack.includes(id)) };
  });
}

/** How the teacher turned the pages of a hand-in's documents. */
export async function turnsIn(
  tx: { query(sql: string, values: unknown[]): Promise<{ document_id: DocumentId; turns: string }[]> },
  handInId: string,
): Promise<Record<DocumentId, Turns>> {
  const rows = await tx.query(
    'SELECT t.document_id, t.turns FROM page_turns t JOIN hand_in_document d ON d.document_id = t.document_id WHERE d.hand_in_id = ?',
    [handInId],
  );
  return Object.fromEntries(rows.map((r) => [r.document_id, JSON.parse(r.turns)]));
}
