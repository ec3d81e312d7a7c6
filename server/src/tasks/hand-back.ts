import type { HandBackOrderId } from '@jotmark/core';
import {
  AssignmentTable,
  type HandBackOrderRow,
  HandBackOrderTable,
  MembershipTable,
  PersonTable,
} from '../database/entities/index.ts';
import { type Db, exists } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, lock, update } from '../database/write.ts';
import { handBackIn } from '../hand-back/hand-back.ts';
import type { House } from '../house.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob } from '../jobs/queue.ts';
import { tell } from '../news/tell.ts';

/**
 * The job that hands back at a set time. If no server ran then, it is done as soon as one does. What is not marked by then stays, and whoever set it hears
 * how many went. Order, hand-backs and news are one transaction, under the order's lock: undone before it, nothing has gone.
 */
export const handBackAtTime: Work = async ({ house, job }) => {
  const id = job.subject as HandBackOrderId;
  await inTransaction(house.db, async (tx) => {
    const order = await lock(tx, HandBackOrderTable, { id });
    const by = order && (await find(tx, PersonTable, { id: order.byId }));
    const may = order && by && (await stillTeaches(tx, order.assignmentId, by.id));
    // Nobody hands back in the name of who does not teach there any more: a colleague sees the copies marked and held.
    if (order?.state === 'waits' && !may) await update(tx, HandBackOrderTable, { id }, { state: 'undone' });
    else if (order?.state === 'waits' && by) {
      const { handedBack } = await handBackIn(house, tx, by, order.assignmentId, order.copyIds, order.how);
      await update(tx, HandBackOrderTable, { id }, { state: 'done' });
      // What was called back within its ten seconds is no news to who did it.
      if (!order.soon || handedBack.length === 0) await tellSetter(house, tx, order, handedBack.length);
    }
    await finishJob(tx, job);
  });
};

const tellSetter = (
  house: House,
  tx: Db,
  order: Pick<HandBackOrderRow, 'byId' | 'assignmentId'>,
  count: number,
) =>
  tell(house, tx, [
    {
      to: order.byId,
      what: { kind: 'set-time', assignmentId: order.assignmentId, copyId: null, count },
    },
  ]);

const stillTeaches = (tx: Db, assignmentId: string, personId: string) =>
  exists(
    tx
      .createQueryBuilder(MembershipTable, 'm')
      .innerJoin(AssignmentTable.table, 'a', 'a.classId = m.classId AND a.id = :assignmentId', {
        assignmentId,
      })
      .where(`m.personId = :personId AND m.role = 'teacher' AND m.leftAt IS NULL`, { personId }),
  );
