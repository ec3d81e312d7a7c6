import { randomBytes } from 'node:crypto';
import type { Person } from '@jotmark/core';
import { PersonTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import type { House } from '../house.ts';

/** What locks this person's unsent work in a browser that they leave: a key of their own, given to nobody else. Made when it is first asked for; two who ask at once get the same. */
export async function deviceKeyOf(house: House, { id }: Person): Promise<string> {
  const db = house.db.manager;
  const row = await find(db, PersonTable, { id });
  if (row?.deviceKey) return row.deviceKey;
  await db
    .createQueryBuilder()
    .update(PersonTable)
    .set({ deviceKey: randomBytes(32).toString('base64') })
    .where('id = :id AND deviceKey IS NULL', { id })
    .execute();
  return (await find(db, PersonTable, { id }))!.deviceKey!;
}
