import {
  type AssignmentId,
  type CopyId,
  freezeRound,
  type HandBackId,
  type Person,
  roundOf,
  saysSomething,
  standingScores,
} from '@jotmark/core';
import { In } from 'typeorm';
import { CopyTable, HandBackTable, MarkingTable } from '../database/entities/index.ts';
import { exists } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert, lock } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hint } from '../live/hint.ts';
import { sheetOf, stateOf } from '../marking/state.ts';
import { studentsOfCopies } from '../news/of-class.ts';
import { tell } from '../news/tell.ts';
import { scoringFor } from './freeze.ts';

/**
 * Releases the midway round of copies that are still being worked on: each of their students sees where they stand and what was said of it, without a grade,
 * and goes on working. A copy with nothing scored in that round stays, and so does one whose round was released. Locks are taken as in handing back.
 */
export async function releaseMidway(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
): Promise<{ released: CopyId[]; kept: CopyId[] }> {
  return inTransaction(house.db, async (tx) => {
    const copies = await tx.getRepository(CopyTable).find({
      where: { assignmentId, id: In([...copyIds]) },
      order: { id: 'ASC' },
      lock: { mode: 'pessimistic_write' },
    });
    const released: CopyId[] = [];
    const now = house.now();
    for (const { id: copyId } of copies) {
      const was = await exists(
        tx.createQueryBuilder(HandBackTable, 'b').where('b.copyId = :copyId AND b.round = 0', { copyId }),
      );
      const marking = was ? null : await lock(tx, MarkingTable, { copyId, number: 0 });
      if (!marking) continue;
      const by = await scoringFor(tx, marking.id);
      const sheet = sheetOf(await stateOf(tx, marking));
      if (!by.rubric) continue;
      const round = roundOf(by.rubric.rubric, standingScores(sheet), 'midway', sheet.slip.midway.value);
      if (!saysSomething(round)) continue;
      await insert(tx, HandBackTable, {
        id: newId<HandBackId>(house),
        copyId,
        handInId: null,
        round: 0,
        handedBackAt: now,
        byId: person.id,
        content: freezeRound(round, { by, markedBy: `${person.given} ${person.family}` }),
        grade: null,
        notes: 0,
        unfinished: false,
        goesOn: false,
        told: true,
      });
      await hint(tx, { assignmentId, copyId, kind: 'hand-back', at: now });
      released.push(copyId);
    }
    if (released.length === 0) throw new Fault('nothing-scored');
    await tell(
      house,
      tx,
      (await studentsOfCopies(tx, released)).map(({ copyId, personId }) => ({
        to: personId,
        what: { kind: 'midway', assignmentId, copyId, byId: person.id },
      })),
    );
    return { released, kept: copyIds.filter((id) => !released.includes(id)) };
  });
}
