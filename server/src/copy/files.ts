import { type CopyId, type DocumentId, type DocumentState, MOST_FILES } from '@jotmark/core';
import { CopyFileTable, DocumentTable } from '../database/entities/index.ts';
import { as, col, type Db, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert, remove, update } from '../database/write.ts';
import { keepLink } from '../document/document.ts';
import { documentState, documentStates } from '../document/state.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { lockOwnCopy } from './away.ts';

/** The files that lie on a copy, in the student's order. */
export async function filesOf(db: Db, copyId: CopyId): Promise<DocumentState[]> {
  const rows = await filesIn(db, copyId);
  return documentStates(
    db,
    rows.map((r) => r.documentId),
  );
}

export const filesIn = (db: Db, copyId: CopyId) =>
  db.getRepository(CopyFileTable).find({ where: { copyId }, order: { position: 'ASC' } });

/** Lays a document on the copy behind what is there. It may have been handed in from another window meanwhile. */
export async function layFile(tx: Db, copyId: CopyId, documentId: DocumentId): Promise<void> {
  await lockOwnCopy(tx, copyId);
  const last = await pickOne(
    tx.createQueryBuilder(CopyFileTable, 'f').where('f.copyId = :copyId', { copyId }),
    { count: col('COUNT(*)', as.int), position: col('COALESCE(MAX(f.position), -1)', as.int) },
  );
  if (last!.count >= MOST_FILES) throw new Fault('too-many-files', { most: MOST_FILES });
  await insert(tx, CopyFileTable, { copyId, documentId, position: last!.position + 1 });
}

export async function addLink(
  house: House,
  copyId: CopyId,
  url: string,
  name: string,
): Promise<DocumentState> {
  const { id } = await keepLink(house, { copyId }, url, name);
  await inTransaction(house.db, (tx) => layFile(tx, copyId, id));
  return documentState(house.db.manager, id);
}

export async function takeAway(house: House, copyId: CopyId, documentId: DocumentId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lockOwnCopy(tx, copyId);
    await remove(tx, CopyFileTable, { copyId, documentId });
    await update(tx, DocumentTable, { id: documentId, copyId }, { takenAwayAt: house.now() });
  });
}

/** The student's order; files not named stay behind the others. */
export async function orderFiles(house: House, copyId: CopyId, order: readonly DocumentId[]): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lockOwnCopy(tx, copyId);
    const there = (await filesIn(tx, copyId)).map((f) => f.documentId);
    const named = order.filter((id) => there.includes(id));
    const others = there.filter((id) => !named.includes(id));
    for (const [position, documentId] of [...named, ...others].entries())
      await update(tx, CopyFileTable, { copyId, documentId }, { position });
  });
}
