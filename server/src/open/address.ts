import { randomBytes } from 'node:crypto';
import type { ClassId, OpenKind, Person, PersonId } from '@jotmark/core';
import { type OpenAddressRow, OpenAddressTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insertNew, remove } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/** An address that nobody can guess, made, revoked, or only told (`open` null). Made anew it is another one: who had the old one reads nothing any more. */
export async function openAddress(
  house: House,
  by: Person,
  of: { readonly kind: OpenKind; readonly classId: ClassId; readonly personId: PersonId },
  open: boolean | null,
): Promise<{ token: string | null }> {
  const db = house.db.manager;
  if (open === null) return { token: (await find(db, OpenAddressTable, of))?.token ?? null };
  return inTransaction(house.db, async (tx) => {
    await remove(tx, OpenAddressTable, of);
    if (!open) return { token: null };
    const token = randomBytes(24).toString('base64url');
    await insertNew(tx, OpenAddressTable, { ...of, token, madeById: by.id, madeAt: house.now() });
    return { token: (await find(tx, OpenAddressTable, of))!.token };
  });
}

/** What an address opens; throws `not-found` for one that was revoked, or never was. */
export async function behindAddress(db: Db, token: string, kind: OpenKind): Promise<OpenAddressRow> {
  const row = await find(db, OpenAddressTable, { token, kind });
  if (!row) throw new Fault('not-found');
  return row;
}
