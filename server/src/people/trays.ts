import { randomBytes } from 'node:crypto';
import { makeId, type Person, starterTrays, type TrayId, type Trays } from '@jotmark/core';
import { PenTraysTable } from '../database/entities/index.ts';
import { Unreadable } from '../database/stored.ts';
import { find, insertOrUpdate } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/** A teacher's pen trays; the starter ones for who never changed any, or whose were written by a newer program and cannot be read. */
export async function readTrays(house: House, person: Person): Promise<Trays> {
  const kept = await stored(house, person);
  if (kept === 'unreadable')
    house.log.warn({ person: person.id }, 'pen trays cannot be read: starter trays are shown');
  return kept && kept !== 'unreadable'
    ? kept
    : starterTrays(() => makeId(house.now(), randomBytes(10)) as TrayId);
}

/** Keeps them as they are now. What cannot be read is not written over. */
export async function keepTrays(house: House, person: Person, trays: Trays): Promise<Trays> {
  if ((await stored(house, person)) === 'unreadable') throw new Fault('unreadable', { what: 'pen trays' });
  await insertOrUpdate(
    house.db.manager,
    PenTraysTable,
    { personId: person.id, content: trays, at: house.now() },
    ['content', 'at'],
  );
  return trays;
}

async function stored(house: House, person: Person): Promise<Trays | 'unreadable' | null> {
  try {
    return (await find(house.db.manager, PenTraysTable, { personId: person.id }))?.content ?? null;
  } catch (error) {
    if (error instanceof Unreadable) return 'unreadable';
    throw error;
  }
}
