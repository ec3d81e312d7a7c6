import type { CopyId } from '@jotmark/core';
import {
  type CopyRow,
  CopyTable,
  HandBackTable,
  type HandInRow,
  HandInTable,
} from '../database/entities/index.ts';
import { type Db, exists } from '../database/pick.ts';
import { lock } from '../database/write.ts';
import { Fault } from '../fault.ts';

/** The newest hand-in of a copy, and whether it came back finished; null: nothing was handed in. Reads nothing of any marking. */
export async function newestHandIn(
  db: Db,
  copyId: CopyId,
): Promise<{ readonly handIn: HandInRow; readonly cameBack: boolean } | null> {
  const [handIn] = await db
    .getRepository(HandInTable)
    .find({ where: { copyId }, order: { number: 'DESC' }, take: 1 });
  if (!handIn) return null;
  const cameBack = await exists(
    db
      .createQueryBuilder(HandBackTable, 'b')
      .where('b.handInId = :id AND b.unfinished = 0', { id: handIn.id }),
  );
  return { handIn, cameBack };
}

/** Takes the copy's lock and gives it, as long as it is with its student; a copy that is with the teacher is not changed before it comes back. */
export async function lockOwnCopy(tx: Db, copyId: CopyId): Promise<CopyRow> {
  const copy = await lock(tx, CopyTable, { id: copyId });
  if (!copy) throw new Fault('not-found');
  const newest = await newestHandIn(tx, copyId);
  if (newest && !newest.cameBack) throw new Fault('already-handed-in');
  return copy;
}
