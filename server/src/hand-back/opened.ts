import { closedOf, type HandBackId, type MarkId, opens, type Person, type PersonId } from '@jotmark/core';
import { HandBackTable, OpenedTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find, insertNew } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/** What of a hand-back this student has opened: marks, and, by its own id, the copy itself. */
export async function openedOf(db: Db, handBackId: HandBackId, personId: PersonId): Promise<Set<string>> {
  const rows = await db
    .getRepository(OpenedTable)
    .find({ select: { what: true }, where: { handBackId, personId } });
  return new Set(rows.map((r) => r.what));
}

/** The student has opened these notes. What is none of it is left out. Gives how many must still be opened before the grade shows. */
export async function keepOpened(
  house: House,
  person: Person,
  handBackId: HandBackId,
  marks: readonly MarkId[],
): Promise<{ closed: number }> {
  const db = house.db.manager;
  const back = await find(db, HandBackTable, { id: handBackId });
  if (!back) throw new Fault('not-found');
  const there = new Set(back.content.marks.filter(opens).map((m) => m.id));
  const at = house.now();
  await insertNew(
    db,
    OpenedTable,
    [handBackId, ...marks.filter((m) => there.has(m))].map((what) => ({
      handBackId,
      what,
      personId: person.id,
      at,
    })),
  );
  return { closed: closedOf(back.content, await openedOf(db, handBackId, person.id)) };
}
