import type { Person, Session } from '@jotmark/core';
import { PersonTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import type { House } from '../house.ts';
import { nameOf } from './person.ts';

/** Who made this person's password anew, and when: told where they sign in with it. Null: it is their first. */
export async function resetOf(house: House, { id }: Person): Promise<Session['reset']> {
  const row = await find(house.db.manager, PersonTable, { id });
  if (!row?.resetAt) return null;
  return { by: await nameOf(house.db.manager, row.resetById), at: row.resetAt };
}
