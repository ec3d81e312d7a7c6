import type { CopyId, DocumentId, HandInId, Person } from '@jotmark/core';
import { lockOwnCopy } from '../copy/away.ts';
import { layFile } from '../copy/files.ts';
import {
  CopyFileTable,
  CopyMemberTable,
  CopyTable,
  DocumentTable,
  HandInTable,
  MaterialTable,
  NoticeTable,
  TakenBackTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import { type Db, exists } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { tell } from '../news/tell.ts';
import { type Brought, handInIn } from './hand-in.ts';
import { takeBackIn } from './take-back.ts';

/**
 * A teacher hands in for a student: files that were brought go behind what lies on the copy, and all of it is frozen, in one transaction. The student is
 * told. Who did it stays with the hand-in. The same id sent twice counts once.
 */
export async function handInFor(
  house: House,
  person: Pick<Person, 'id'>,
  copyId: CopyId,
  id: HandInId,
  brought: Brought,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, CopyTable, { id: copyId });
    if ((await find(tx, HandInTable, { id, copyId })) || (await find(tx, TakenBackTable, { id, copyId })))
      return;
    await lockOwnCopy(tx, copyId);
    for (const documentId of brought.documents) {
      if (!(await isAtHand(tx, person, documentId))) throw new Fault('not-found');
      await update(tx, DocumentTable, { id: documentId }, { copyId, ownerId: null });
      await layFile(tx, copyId, documentId);
    }
    await handInIn(house, tx, person, copyId, { id, cover: '', claimedAt: null }, brought);
    const { assignmentId } = (await find(tx, CopyTable, { id: copyId }))!;
    const members = await tx.getRepository(CopyMemberTable).find({ where: { copyId } });
    await tell(
      house,
      tx,
      members.map(({ personId }) => ({
        to: personId,
        what: { kind: 'handed-in-for', assignmentId, copyId, byId: person.id },
      })),
    );
  });
}

/** This teacher has sent it, and it lies nowhere yet: not on a copy, not among materials, not as a worksheet. */
async function isAtHand(tx: Db, person: Pick<Person, 'id'>, id: DocumentId): Promise<boolean> {
  if (!(await find(tx, DocumentTable, { id, ownerId: person.id }))) return false;
  const lies = (table: typeof CopyFileTable | typeof MaterialTable | typeof WorksheetVersionTable) =>
    exists(tx.createQueryBuilder(table as typeof CopyFileTable, 'f').where('f.documentId = :id', { id }));
  return !(await lies(CopyFileTable)) && !(await lies(MaterialTable)) && !(await lies(WorksheetVersionTable));
}

/**
 * Undoes that, as long as nobody has begun to mark: what was brought goes back to the teacher, and the copy is as it was. What the student was told of it
 * goes with it.
 */
export async function undoHandInFor(
  house: House,
  person: Pick<Person, 'id'>,
  copyId: CopyId,
  handInId: HandInId,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const handIn = await find(tx, HandInTable, { id: handInId, copyId });
    if (!handIn?.brought) throw new Fault('not-handed-in');
    const brought = await takeBackIn(house, tx, copyId, handInId);
    for (const documentId of brought) {
      await remove(tx, CopyFileTable, { copyId, documentId });
      await update(tx, DocumentTable, { id: documentId }, { copyId: null, ownerId: person.id });
    }
    await remove(tx, NoticeTable, { copyId, kind: 'handed-in-for' });
  });
}
