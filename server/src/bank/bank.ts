import { randomBytes } from 'node:crypto';
import {
  type HandInId,
  MOST_PHRASES,
  makeId,
  type Person,
  type Phrase,
  type PhraseId,
  type PhraseInput,
} from '@jotmark/core';
import { In } from 'typeorm';
import { PersonTable, type PhraseRow, PhraseTable, PhraseUseTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/** A teacher's bank, in the order its phrases were made. */
export async function readBank(house: House, owner: Person): Promise<Phrase[]> {
  const rows = await house.db
    .getRepository(PhraseTable)
    .find({ where: { ownerId: owner.id }, order: { createdAt: 'ASC', id: 'ASC' } });
  return rows.map(shown);
}

const shown = ({ id, words, inGroup, focus, uses, usedAt }: PhraseRow): Phrase => ({
  id,
  words,
  group: inGroup,
  focus,
  uses,
  usedAt,
});

/** Keeps phrases as they are written now: new ones behind the others, known ones in their place, sent twice as once. All or none. */
export async function keepPhrases(
  house: House,
  owner: Person,
  phrases: readonly PhraseInput[],
): Promise<Phrase[]> {
  await inTransaction(house.db, async (tx) => {
    // One writer of a bank at a time: what is counted stands.
    await lock(tx, PersonTable, { id: owner.id });
    const latest = new Map(phrases.map((p) => [p.id, p]));
    const known = await tx.getRepository(PhraseTable).find({ where: { id: In([...latest.keys()]) } });
    // A phrase of somebody else is not there.
    if (known.some((row) => row.ownerId !== owner.id)) throw new Fault('not-found');
    for (const { id } of known) {
      const { words, group, focus } = latest.get(id)!;
      await update(tx, PhraseTable, { id }, { words, inGroup: group, focus });
      latest.delete(id);
    }
    if (latest.size === 0) return;
    const there = await tx.getRepository(PhraseTable).countBy({ ownerId: owner.id });
    if (there + latest.size > MOST_PHRASES) throw new Fault('bank-full', { most: MOST_PHRASES });
    const at = house.now();
    await insert(
      tx,
      PhraseTable,
      [...latest.values()].map(
        ({ id, words, group, focus }, i): PhraseRow => ({
          id,
          ownerId: owner.id,
          words,
          inGroup: group,
          focus,
          uses: 0,
          usedAt: null,
          createdAt: at + i,
        }),
      ),
    );
  });
  return readBank(house, owner);
}

/** Takes a phrase out of the bank; comments that were made with it stay as they are. */
export async function removePhrase(house: House, owner: Person, id: PhraseId): Promise<Phrase[]> {
  if ((await remove(house.db.manager, PhraseTable, { id, ownerId: owner.id })) === 0)
    throw new Fault('not-found');
  return readBank(house, owner);
}

/** A phrase was put into a copy: it counts, and when. */
export async function usePhrase(
  house: House,
  owner: Person,
  id: PhraseId,
  handInId: HandInId,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const phrase = await lock(tx, PhraseTable, { id, ownerId: owner.id });
    if (!phrase) throw new Fault('not-found');
    const at = house.now();
    await update(tx, PhraseTable, { id }, { uses: phrase.uses + 1, usedAt: at });
    await insert(tx, PhraseUseTable, { id: makeId(at, randomBytes(10)), phraseId: id, handInId, at });
  });
}
