import type { CopyId, HandBackShape, PersonId } from '@jotmark/core';
import { HandBackTable, HandInTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { filledIn } from '../document/filled.ts';
import { documentsOf } from '../document/state.ts';
import { heardOf } from '../voice/heard.ts';

/** The newest hand-back of a copy, as it was frozen, for one of its students; null before there is one. Reads nothing of any marking. */
export async function newestHandBack(
  db: Db,
  copyId: CopyId,
  reader: PersonId,
): Promise<HandBackShape | null> {
  const row = await db
    .createQueryBuilder(HandBackTable, 'b')
    .innerJoin('b.handIn', 'h')
    .where('b.copyId = :copyId', { copyId })
    .orderBy('h.number', 'DESC')
    .addOrderBy('b.round', 'DESC')
    .limit(1)
    .getOne();
  if (!row?.handInId) return null;
  const handIn = (await find(db, HandInTable, { id: row.handInId }))!;
  return {
    id: row.id,
    handInNumber: handIn.number,
    handedBackAt: row.handedBackAt,
    snapshot: row.content,
    documents: await documentsOf(db, row.handInId),
    filled: await filledIn(db, row.handInId),
    heard: await heardOf(db, row.id, reader),
  };
}
