import { randomBytes } from 'node:crypto';
import { makeId, type Person, starterTrays, type TrayId, Trays } from '@jotmark/core';
import type { House } from '../house.ts';

/** A teacher's pen trays; the starter ones for who never changed any, or whose were written by a newer program and cannot be read. */
export async function readTrays(house: House, person: Person): Promise<Trays> {
  const [row] = await house.db.query('SELECT content FROM pen_trays WHERE person_id = ?', [person.id]);
  const kept = row ? Trays.safeParse(JSON.parse(row.content)) : null;
  if (kept && !kept.success)
    house.log.warn({ person: person.id }, 'pen trays cannot be read: starter trays are shown');
  return kept?.data ?? starterTrays(() => makeId(house.now(), randomBytes(10)) as TrayId);
}

export async function keepTrays(house: House, person: Person, trays: Trays): Promise<Trays> {
  await house.db.query('REPLACE INTO pen_trays (person_id, content, at) VALUES (?, ?, ?)', [
    person.id,
    JSON.stringify(trays),
    new Date(house.now()),
  ]);
  return trays;
}
