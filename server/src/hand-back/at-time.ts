import {
  type AssignmentId,
  type CopyId,
  fullName,
  type HandBackHow,
  type HandBackOrder,
  type HandBackOrderId,
  type Person,
  PLAIN_HAND_BACK,
} from '@jotmark/core';
import { In } from 'typeorm';
import { CopyTable, HandBackOrderTable, JobTable, PersonTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { orderJob } from '../jobs/queue.ts';

/** In which one move can be undone, and nobody has seen anything. */
export const SOON_MS = 10_000;
/** So far ahead a time may be set. */
const MOST_AHEAD_MS = 366 * 86_400_000;

interface ToOrder {
  readonly assignmentId: AssignmentId;
  readonly copyIds: readonly CopyId[];
  readonly how: HandBackHow;
  readonly at: number;
  readonly soon: boolean;
}

/** Sets a time at which copies go back. A time that has gone by is now. */
export async function orderHandBack(house: House, person: Person, what: ToOrder): Promise<HandBackOrderId> {
  const madeAt = house.now();
  if (what.at > madeAt + MOST_AHEAD_MS) throw new Fault('bad-input', { field: 'at' });
  return inTransaction(house.db, async (tx) => {
    const id = newId<HandBackOrderId>(house);
    await insert(tx, HandBackOrderTable, {
      id,
      assignmentId: what.assignmentId,
      byId: person.id,
      madeAt,
      at: what.at,
      copyIds: [...what.copyIds],
      how: what.how,
      soon: what.soon,
      state: 'waits',
    });
    await orderJob(house, tx, { kind: 'hand-back', subject: id, personId: null, notBefore: what.at });
    return id;
  });
}

/** One copy in ten seconds, as most go back. */
export async function handBackSoon(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  copyId: CopyId,
): Promise<{ order: HandBackOrderId; at: number }> {
  if (!(await find(house.db.manager, CopyTable, { id: copyId, assignmentId }))) throw new Fault('not-found');
  const at = house.now() + SOON_MS;
  const order = await orderHandBack(house, person, {
    assignmentId,
    copyIds: [copyId],
    how: PLAIN_HAND_BACK,
    at,
    soon: true,
  });
  return { order, at };
}

/** Nothing goes back at the set time. What has gone already is not undone by this: it says so. */
export async function undoOrder(house: House, id: HandBackOrderId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const order = await lock(tx, HandBackOrderTable, { id });
    if (!order) throw new Fault('not-found');
    if (order.state === 'done') throw new Fault('went-back');
    await update(tx, HandBackOrderTable, { id }, { state: 'undone' });
  });
}

/** What of a pile waits for its time. */
export async function ordersOf(db: Db, assignmentId: AssignmentId): Promise<HandBackOrder[]> {
  const rows = await db.getRepository(HandBackOrderTable).find({
    where: { assignmentId, state: 'waits' },
    order: { at: 'ASC' },
    take: 100,
  });
  const going = await db.getRepository(JobTable).find({
    select: { subject: true, id: true },
    where: { kind: 'hand-back', subject: In(rows.map((r) => r.id)), state: In(['queued', 'running']) },
  });
  const alive = new Set<string>(going.map((j) => j.subject));
  const names = new Map<string, string>();
  for (const { byId } of rows)
    if (!names.has(byId)) names.set(byId, fullName((await find(db, PersonTable, { id: byId }))!));
  return rows.map(({ id, at, copyIds, how, byId }) => ({
    ...{ id, at, copyIds, how, by: names.get(byId)! },
    failed: !alive.has(id),
  }));
}
