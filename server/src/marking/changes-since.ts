import type { HandInId, MarkingChange } from '@jotmark/core';
import { MarkingChangeTable, MarkingTable } from '../database/entities/index.ts';
import { find, update } from '../database/write.ts';
import type { House } from '../house.ts';
import type { Marked } from './lock.ts';

/** So many changes go in one answer; who needs more asks again. */
const MOST = 1000;

/** The changes after a number, for a desk that missed some. */
export async function changesSince(
  house: House,
  of: Marked,
  after: number,
): Promise<{ seq: number; changes: MarkingChange[] }> {
  const rows = await house.db.manager
    .createQueryBuilder(MarkingChangeTable, 'x')
    .innerJoin('x.marking', 'm')
    .where('handInId' in of ? 'm.handInId = :id' : 'm.copyId = :id AND m.number = 0', {
      id: 'handInId' in of ? of.handInId : of.copyId,
    })
    .andWhere('x.seq > :after', { after })
    .orderBy('x.seq')
    .limit(MOST)
    .getMany();
  return { seq: rows.at(-1)?.seq ?? after, changes: rows.map((r) => r.value as MarkingChange) };
}

/** Keeps the page that is being marked; not before anything is. */
export async function leaveAt(house: House, handInId: HandInId, page: number): Promise<boolean> {
  const db = house.db.manager;
  await update(db, MarkingTable, { handInId }, { leftAt: page });
  return (await find(db, MarkingTable, { handInId })) !== null;
}
