import type { AssignmentId, CopyId, Person, PersonId } from '@jotmark/core';
import { deleteDeep } from '../database/delete-deep.ts';
import { AssignmentTable, CopyMemberTable, NoticeTable } from '../database/entities/index.ts';
import { as, col, type Db, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { handOut } from './hand-out.ts';
import { sibling, worksheetsAreRead } from './set.ts';

/** A trial run of an assignment: one like it, with one copy, its teacher's own. */
export interface Trial {
  readonly assignmentId: AssignmentId;
  readonly copyId: CopyId;
}

/** The trial run that a teacher has of an assignment; null: none. */
export const trialOf = (db: Db, assignmentId: AssignmentId, personId: PersonId): Promise<Trial | null> =>
  pickOne(
    db
      .createQueryBuilder(AssignmentTable, 'a')
      .innerJoin(CopyMemberTable.table, 'cm', 'cm.assignmentId = a.id AND cm.personId = :personId', {
        personId,
      })
      .where('a.trialOf = :assignmentId', { assignmentId }),
    { assignmentId: col('a.id', as.id<AssignmentId>()), copyId: col('cm.copyId', as.id<CopyId>()) },
  );

/**
 * Begins a trial run: the same work once more, open at once, with a copy for the teacher alone. It is put away from the beginning, so that no list, count
 * or news of the class knows of it. One that runs already is given.
 */
export async function startTrial(house: House, person: Person, assignmentId: AssignmentId): Promise<Trial> {
  return inTransaction(house.db, async (tx) => {
    const of = await lock(tx, AssignmentTable, { id: assignmentId });
    if (!of || of.trialOf) throw new Fault('not-found');
    const there = await trialOf(tx, assignmentId, person.id);
    if (there) return there;
    await worksheetsAreRead(tx, assignmentId);
    const id = await sibling(house, tx, assignmentId, of.classId);
    const now = house.now();
    await update(
      tx,
      AssignmentTable,
      { id },
      { trialOf: assignmentId, opensAt: now, putAwayAt: now, forAll: false, dueAt: null },
    );
    const copies = await handOut(house, tx, id, [person.id]);
    return { assignmentId: id, copyId: copies.get(person.id)! };
  });
}

/** Ends it: everything of it goes. */
export async function endTrial(house: House, person: Person, assignmentId: AssignmentId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const trial = await trialOf(tx, assignmentId, person.id);
    if (!trial) throw new Fault('not-found');
    await lock(tx, AssignmentTable, { id: trial.assignmentId });
    await remove(tx, NoticeTable, { assignmentId: trial.assignmentId });
    await deleteDeep(tx, 'assignment', [trial.assignmentId]);
  });
}
