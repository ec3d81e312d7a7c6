import { type CopyId, type DocumentId, type HandInId, mayTakeBack, TakingBack } from '@jotmark/core';
import { newestHandIn } from '../copy/away.ts';
import {
  CopyTable,
  HandInAnswerTable,
  HandInDocumentTable,
  HandInTable,
  MarkingTable,
  MembershipTable,
  TakenBackTable,
} from '../database/entities/index.ts';
import { as, col, type Db, exists, pick, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert, lock, remove } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { hintCopy } from '../live/hint.ts';

/**
 * The student takes a hand-in back, as long as the teacher's rule lets them: it leaves the pile and is kept among the taken-back ones. Whatever stands
 * against it, the refusal is the same, so that nothing of the marking shows.
 */
export async function takeBack(house: House, copyId: CopyId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, CopyTable, { id: copyId });
    const rule = await pickOne(
      tx
        .createQueryBuilder(CopyTable, 'c')
        .innerJoin('c.assignment', 'a')
        .where('c.id = :copyId', { copyId }),
      {
        takeBack: col('a.takeBack', as.oneOf(TakingBack.options)),
        dueAt: col('COALESCE(c.due_at, a.due_at)', as.maybe(as.moment)),
      },
    );
    if (rule && !mayTakeBack(rule.takeBack, rule.dueAt, house.now())) throw new Fault('not-to-take-back');
    try {
      await takeBackIn(house, tx, copyId, null);
    } catch (error) {
      throw error instanceof Fault && error.code === 'marking-begun' ? new Fault('not-to-take-back') : error;
    }
  });
}

/**
 * The same for a teacher, who may know, in a transaction that does more. Asks only whether a marking exists, under the hand-in's lock, so that marking and
 * taking back cannot both come first. `only`: the hand-in that is meant; gives what a teacher had brought for it.
 */
export async function takeBackIn(
  house: House,
  tx: Db,
  copyId: CopyId,
  only: HandInId | null,
): Promise<readonly DocumentId[]> {
  await lock(tx, CopyTable, { id: copyId });
  const newest = await newestHandIn(tx, copyId);
  if (!newest || newest.cameBack) throw new Fault('not-handed-in');
  const { handIn } = newest;
  if (only && handIn.id !== only) throw new Fault('not-handed-in');
  await lock(tx, HandInTable, { id: handIn.id });
  const begun = await exists(
    tx.createQueryBuilder(MarkingTable, 'm').where('m.handInId = :id', { id: handIn.id }),
  );
  if (begun) throw new Fault('marking-begun', { whom: await teachersOf(tx, copyId) });
  const documents = await tx
    .getRepository(HandInDocumentTable)
    .find({ where: { handInId: handIn.id }, order: { position: 'ASC' } });
  await insert(tx, TakenBackTable, {
    id: handIn.id,
    copyId,
    number: handIn.number,
    handedInAt: handIn.handedInAt,
    takenBackAt: house.now(),
    content: handIn.content,
    documents: documents.map((d) => d.documentId),
  });
  await remove(tx, HandInDocumentTable, { handInId: handIn.id });
  await remove(tx, HandInAnswerTable, { handInId: handIn.id });
  await remove(tx, HandInTable, { id: handIn.id });
  await hintCopy(tx, copyId, 'hand-in', house.now());
  return handIn.brought ?? [];
}

/** The teachers of a copy's class, by name. */
export async function teacherNames(db: Db, copyId: CopyId): Promise<string[]> {
  const rows = await pick(
    db
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin('c.assignment', 'a')
      .innerJoin(MembershipTable.table, 'm', `m.classId = a.classId AND m.role = 'teacher'`)
      .innerJoin('m.person', 'p')
      .where('c.id = :copyId', { copyId })
      .orderBy('p.family')
      .addOrderBy('p.given'),
    { given: col('p.given', as.text), family: col('p.family', as.text) },
  );
  return rows.map((r) => `${r.given} ${r.family}`);
}

const teachersOf = async (db: Db, copyId: CopyId) => (await teacherNames(db, copyId)).join(', ');
