import type { Digest, HandBackId, Heard, Person } from '@jotmark/core';
import { HeardTable, VoiceHandedBackTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/** A student has heard what was handed back, up to here. What was reached once stays reached. */
export async function keepHeard(
  house: House,
  person: Person,
  handBackId: HandBackId,
  file: Digest,
  { reached, left }: { readonly reached: number; readonly left: number },
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    if (!(await find(tx, VoiceHandedBackTable, { handBackId, sha256: file }))) throw new Fault('not-found');
    const key = { handBackId, sha256: file as string, personId: person.id };
    const before = await lock(tx, HeardTable, key);
    const row = {
      reached: Math.max(reached, left, before?.reached ?? 0),
      stoppedAt: left,
      at: house.now(),
    };
    if (before) await update(tx, HeardTable, key, row);
    else await insert(tx, HeardTable, { ...key, ...row });
  });
}

/** How far what was handed back was heard: by this student, or, of a group, by whoever heard the most. */
export async function heardOf(db: Db, handBackId: HandBackId, by: Person['id'] | null): Promise<Heard[]> {
  const rows = await db.getRepository(HeardTable).find({
    where: by ? { handBackId, personId: by } : { handBackId },
    order: { reached: 'ASC' },
  });
  const most = new Map(rows.map((r) => [r.sha256, r]));
  return [...most.values()].map(({ sha256, reached, stoppedAt, at }) => ({
    file: sha256 as Digest,
    reached,
    left: stoppedAt,
    at,
  }));
}
