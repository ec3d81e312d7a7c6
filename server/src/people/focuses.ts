import { type Focus, type Focuses, type Person, STARTER_FOCUSES } from '@jotmark/core';
import { FocusTable, PersonTable, PhraseTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert, lock, remove, update } from '../database/write.ts';
import type { House } from '../house.ts';
import { keepTrays, readTrays } from './trays.ts';

/** What this teacher's marks are about, in their order; what everybody starts with for who never changed it. */
export async function readFocuses(house: House, person: Person): Promise<Focuses> {
  const rows = await house.db
    .getRepository(FocusTable)
    .find({ where: { ownerId: person.id }, order: { position: 'ASC' } });
  return rows.length ? rows.map(({ name, colour, sign }) => ({ name, colour, sign })) : [...STARTER_FOCUSES];
}

interface Renamed {
  readonly from: string;
  readonly to: string;
}

/**
 * Keeps them as they are now. Pens and phrases of one that is called otherwise, or has become one with another, go with it; marks that were made keep what
 * they were made with.
 */
export async function keepFocuses(
  house: House,
  person: Person,
  focuses: readonly Focus[],
  renamed: readonly Renamed[],
): Promise<Focuses> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, PersonTable, { id: person.id });
    await remove(tx, FocusTable, { ownerId: person.id });
    if (focuses.length)
      await insert(
        tx,
        FocusTable,
        focuses.map((focus, position) => ({ ownerId: person.id, ...focus, position })),
      );
    for (const { from, to } of renamed)
      await update(tx, PhraseTable, { ownerId: person.id, focus: from }, { focus: to });
  });
  if (renamed.length) await renameInTrays(house, person, renamed);
  return readFocuses(house, person);
}

async function renameInTrays(house: House, person: Person, renamed: readonly Renamed[]): Promise<void> {
  const trays = await readTrays(house, person);
  const now = (focus: string | null) => renamed.find((r) => r.from === focus)?.to ?? focus;
  await keepTrays(house, person, {
    ...trays,
    trays: trays.trays.map((tray) => ({
      ...tray,
      pens: tray.pens.map((pen) => ('focus' in pen ? { ...pen, focus: now(pen.focus) } : pen)),
    })),
  });
}
