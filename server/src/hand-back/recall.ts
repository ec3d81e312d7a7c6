import type { AssignmentId, CopyId, Person } from '@jotmark/core';
import { In } from 'typeorm';
import { newestHandIn } from '../copy/away.ts';
import {
  CopyTable,
  HandBackPdfTable,
  type HandBackRow,
  HandBackTable,
  MarkingTable,
  OpenedTable,
  RecalledTable,
  VoiceHandedBackTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, remove } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { hint } from '../live/hint.ts';
import { studentsOfCopies } from '../news/of-class.ts';
import { tell } from '../news/tell.ts';
import { heardOf } from '../voice/heard.ts';
import { newestBack, setGoesOn } from './hand-back.ts';

/**
 * Takes hand-backs back in: from then on their students see nothing of them, and the marking can be changed. Each is moved out of the table that students'
 * code reads, with a record of what was seen. A copy that was handed in again since stays: its student built on what they got. All in one transaction,
 * under the copies' locks, as handing back and handing in are.
 */
export async function recall(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
  { tell: told, words }: { readonly tell: boolean; readonly words: string },
): Promise<{ recalled: CopyId[]; kept: CopyId[] }> {
  return inTransaction(house.db, async (tx) => {
    const copies = await tx.getRepository(CopyTable).find({
      where: { assignmentId, id: In([...copyIds]) },
      order: { id: 'ASC' },
      lock: { mode: 'pessimistic_write' },
    });
    const recalled: CopyId[] = [];
    for (const { id: copyId } of copies) {
      const handInId = (await newestHandIn(tx, copyId))?.handIn.id ?? null;
      if (!(await newestBack(tx, copyId, handInId))) continue;
      const backs = (await tx.getRepository(HandBackTable).find({ where: { copyId } })).filter(
        (b) => b.handInId === handInId && b.round > 0,
      );
      for (const back of backs) await takeIn(house, tx, person, back, told ? words : '');
      await hint(tx, { assignmentId, copyId, kind: 'recall', at: house.now() });
      recalled.push(copyId);
    }
    if (recalled.length === 0) throw new Fault('nothing-to-recall');
    if (told)
      await tell(
        house,
        tx,
        (await studentsOfCopies(tx, recalled)).map(({ copyId, personId }) => ({
          to: personId,
          what: { kind: 'recalled', assignmentId, copyId, byId: person.id, words },
        })),
      );
    return { recalled, kept: copyIds.filter((id) => !recalled.includes(id)) };
  });
}

async function takeIn(house: House, tx: Db, person: Person, back: HandBackRow, words: string): Promise<void> {
  const { id, copyId, handInId, round, handedBackAt, byId, content } = back;
  const seen = await tx
    .getRepository(OpenedTable)
    .find({ where: { handBackId: id }, order: { at: 'ASC' }, take: 1 });
  await insert(tx, RecalledTable, {
    ...{ id, copyId, handInId, round, handedBackAt, byId, content },
    recalledAt: house.now(),
    recalledById: person.id,
    words,
    seenAt: seen[0]?.at ?? null,
    heard: await heardOf(tx, id, null),
  });
  await remove(tx, VoiceHandedBackTable, { handBackId: id });
  await remove(tx, HandBackPdfTable, { handBackId: id });
  await remove(tx, HandBackTable, { id });
}

/** The marking goes on after it went back; its students keep what they have. A copy that was handed in again is marked on its new hand-in. */
export async function changeAgain(house: House, copyId: CopyId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, CopyTable, { id: copyId });
    const handInId = (await newestHandIn(tx, copyId))?.handIn.id ?? null;
    if (!(await newestBack(tx, copyId, handInId))) throw new Fault('nothing-to-recall');
    await lock(tx, MarkingTable, handInId ? { handInId } : { copyId, number: 0 });
    await setGoesOn(tx, copyId, handInId, true);
  });
}

/** What its students are told of a copy that was taken back in and has not come back since; null: nothing is. Reads no content of it. */
export async function recalledNow(db: Db, copyId: CopyId): Promise<{ at: number; words: string } | null> {
  const row = await db.getRepository(RecalledTable).findOne({
    select: { recalledAt: true, words: true, handInId: true },
    where: { copyId },
    order: { recalledAt: 'DESC' },
  });
  if (!row) return null;
  const newest = await newestHandIn(db, copyId);
  if ((newest?.handIn.id ?? null) !== row.handInId) return null;
  const again = row.handInId
    ? await find(db, HandBackTable, { handInId: row.handInId })
    : await newestBack(db, copyId, null);
  return again ? null : { at: row.recalledAt, words: row.words };
}
