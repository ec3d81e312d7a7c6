import type { Digest } from '@jotmark/core';
import type { IDBPDatabase } from 'idb';
import type { Clash, DeviceSchema, History, Kept, KeptBytes, SheetId } from '../outbox/device.ts';

type Db = IDBPDatabase<DeviceSchema>;

/** All that one person has in a browser's own database. */
export interface Belongings {
  readonly personId: string;
  readonly letters: readonly Kept[];
  readonly clashes: readonly Clash[];
  readonly history: readonly (readonly [SheetId, History])[];
  readonly bytes: readonly (readonly [Digest, KeptBytes])[];
}

export async function belongingsOf(db: Db, personId: string): Promise<Belongings> {
  const letters = (await db.getAll('outbox')).filter((r) => r.personId === personId);
  const clashes = (await db.getAll('clash')).filter((c) => c.personId === personId);
  const history: [SheetId, History][] = [];
  for (const key of await db.getAllKeys('history'))
    if (key[0] === personId) history.push([key[1] as SheetId, (await db.get('history', key))!]);
  // Bytes say not whose they are; those that letters wait with are needed with them.
  const bytes: [Digest, KeptBytes][] = [];
  if (letters.length)
    for (const file of await db.getAllKeys('bytes'))
      bytes.push([file as Digest, (await db.get('bytes', file))!]);
  return { personId, letters, clashes, history, bytes };
}

const change = (db: Db) =>
  db.transaction(['outbox', 'clash', 'history', 'bytes'], 'readwrite', { durability: 'strict' });

/** Puts it here again, behind what is here already. */
export async function takeIn(
  db: Db,
  { personId, letters, clashes, history, bytes }: Belongings,
): Promise<void> {
  const tx = change(db);
  for (const { order: _, ...letter } of letters) tx.objectStore('outbox').add(letter);
  for (const clash of clashes) tx.objectStore('clash').put(clash);
  for (const [sheetId, kept] of history) tx.objectStore('history').put(kept, [personId, sheetId]);
  for (const [file, kept] of bytes) tx.objectStore('bytes').put(kept, file);
  await tx.done;
}

/** Takes all of it away. Bytes go when nobody's letter is left that may wait with them. */
export async function forgetAll(db: Db, personId: string): Promise<void> {
  const tx = change(db);
  let others = 0;
  for (let cursor = await tx.objectStore('outbox').openCursor(); cursor; cursor = await cursor.continue())
    if (cursor.value.personId === personId) await cursor.delete();
    else others++;
  for (let cursor = await tx.objectStore('clash').openCursor(); cursor; cursor = await cursor.continue())
    if (cursor.value.personId === personId) await cursor.delete();
  for (const key of await tx.objectStore('history').getAllKeys())
    if (key[0] === personId) await tx.objectStore('history').delete(key);
  if (others === 0) await tx.objectStore('bytes').clear();
  await tx.done;
}
