import type { DocumentId } from '@jotmark/core';
import { forget } from '../blobs/blob.ts';
import { deleteDeep } from '../database/delete-deep.ts';
import {
  CopyFileTable,
  DocumentTable,
  HandInDocumentTable,
  TakenBackTable,
} from '../database/entities/index.ts';
import { as, col, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { lock } from '../database/write.ts';
import type { House } from '../house.ts';

/** So long what was taken off a copy stays: for who took away the wrong file. */
const KEPT_MS = 7 * 86_400_000;
const BITE = 50;

/**
 * Files that their student took off a copy more than a week ago, and that were never handed in, go with their bytes. What lies on a copy again, or is part of a
 * hand-in, taken back or not, stays for good. Gives how many went.
 */
export async function sweepTakenAway(house: House): Promise<number> {
  const rows = await pick(
    house.db.manager
      .createQueryBuilder(DocumentTable, 'd')
      .leftJoin(CopyFileTable.table, 'f', 'f.documentId = d.id')
      .leftJoin(HandInDocumentTable.table, 'h', 'h.documentId = d.id')
      .leftJoin(TakenBackTable.table, 't', `t.copyId = d.copyId AND t.documents LIKE CONCAT('%', d.id, '%')`)
      .where('d.takenAwayAt < :before', { before: new Date(house.now() - KEPT_MS) })
      .andWhere('f.documentId IS NULL AND h.documentId IS NULL AND t.id IS NULL')
      .limit(BITE),
    { id: col('d.id', as.id<DocumentId>()) },
  );
  let swept = 0;
  for (const { id } of rows) {
    const bytes = await inTransaction(house.db, async (tx) => {
      const row = await lock(tx, DocumentTable, { id });
      // It may have been handed in just now.
      if (!row || (await tx.getRepository(HandInDocumentTable).count({ where: { documentId: id } })))
        return [];
      await deleteDeep(tx, 'document', [id]);
      return [row.originalSha256, row.sha256, row.pictureSha256].filter((s) => s !== null);
    });
    if (bytes.length) swept++;
    for (const sha256 of bytes) await forget(house.db, sha256);
  }
  return swept;
}
