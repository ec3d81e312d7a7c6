import type { CopyId, Snapshot } from '@jotmark/core';
import { HandBackTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';

/** What went back last, finished, of the hand-ins of a copy before this one; null: nothing did. `number` is the hand-in's. */
export async function backBefore(db: Db, copyId: CopyId, number: number): Promise<Snapshot | null> {
  if (number < 2) return null;
  const row = await db
    .createQueryBuilder(HandBackTable, 'b')
    .innerJoin('b.handIn', 'h')
    .where('b.copyId = :copyId AND h.number < :number AND b.round > 0 AND b.unfinished = 0', {
      copyId,
      number,
    })
    .orderBy('h.number', 'DESC')
    .addOrderBy('b.round', 'DESC')
    .limit(1)
    .getOne();
  return row?.content ?? null;
}
