import { type CopyId, type DocumentId, type DocumentState, MOST_FILES } from '@jotmark/core';
import { isAway } from './take-changes.ts';
import { inTransaction } from '../database/transaction.ts';
import { documentState, keepDocument, keepLink } from '../document/document.ts';
import { judgeAny } from '../opening/judge.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import type { Opener } from '../opening/opener.ts';

/** Judges an uploaded file, keeps it and lays it on the copy behind what is there. */
export async function addFile(
  house: House,
  opener: Opener,
  copyId: CopyId,
  file: { path: string; name: string },
): Promise<DocumentState> {
  await mayChange(house, copyId);
  const judged = await judgeAny(opener, file.path, file.name);
  const id = await keepDocument(house, { copyId }, file.name, [{ ...file, judged }]);
  return lay(house, copyId, id);
}

export async function addLink(
  house: House,
  copyId: CopyId,
  url: string,
  name: string,
): Promise<DocumentState> {
  await mayChange(house, copyId);
  return lay(house, copyId, await keepLink(house, { copyId }, url, name));
}

async function lay(house: House, copyId: CopyId, id: DocumentId): Promise<DocumentState> {
  await inTransaction(house.db, async (tx) => {
    await tx.query('SELECT id FROM copy WHERE id = ? FOR UPDATE', [copyId]);
    // It may have been handed in from another window meanwhile.
    if (await isAway(tx, copyId)) throw new Fault('already-handed-in');
    const [row] = await tx.query(
      'SELECT COUNT(*) AS n, COALESCE(MAX(position), -1) AS last FROM copy_file WHERE copy_id = ?',
      [copyId],
    );
    if (Number(row.n) >= MOST_FILES) throw new Fault('too-many-files', { most: MOST_FILES });
    await tx.query('INSERT INTO copy_file (copy_id, document_id, position) VALUES (?, ?, ?)', [
      copyId,
      id,
      Number(row.last) + 1,
    ]);
  });
  return documentState(house, id);
}

export async function takeAway(house: House, copyId: CopyId, documentId: DocumentId): Promise<void> {
  await mayChange(house, copyId);
  await house.db.query('DELETE FROM copy_file WHERE copy_id = ? AND document_id = ?', [copyId, documentId]);
}

/** The student's order; files not named stay behind the others. */
export async function orderFiles(house: House, copyId: CopyId, order: readonly DocumentId[]): Promise<void> {
  await mayChange(house, copyId);
  await house.db.transaction(async (tx) => {
    await tx.query('UPDATE copy_file SET position = position + 1000 WHERE copy_id = ? AND position < 1000', [
      copyId,
    ]);
    for (const [i, id] of order.entries())
      await tx.query('UPDATE copy_file SET position = ? WHERE copy_id = ? AND document_id = ?', [
        i,
        copyId,
        id,
      ]);
  });
}

/** A copy that is with the teacher is not changed before it comes back. */
async function mayChange(house: House, copyId: CopyId): Promise<void> {
  if (await isAway(house.db, copyId)) throw new Fault('already-handed-in');
}
