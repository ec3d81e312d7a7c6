import { randomBytes } from 'node:crypto';
import {
  type BankShape,
  type HandInId,
  type MarkId,
  type MessageId,
  MOST_ASKED,
  MOST_PHRASES,
  makeId,
  type Person,
  type PersonId,
  type Phrase,
  type PhraseId,
  type PhraseInput,
  type QuestionId,
} from '@jotmark/core';
import { In, Not } from 'typeorm';
import {
  BankTable,
  PersonTable,
  PhraseGroupTable,
  type PhraseRow,
  PhraseTable,
  PhraseUseTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, insertNew, insertOrUpdate, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/** A teacher's bank: phrases in the order they were made, and its groups in theirs. The number is read first: what is read after it is at least as new. */
export async function readBank(house: House, owner: Person): Promise<BankShape> {
  const db = house.db.manager;
  const seq = (await find(db, BankTable, { ownerId: owner.id }))?.seq ?? 0;
  const rows = await db
    .getRepository(PhraseTable)
    .find({ where: { ownerId: owner.id }, order: { createdAt: 'ASC', id: 'ASC' } });
  const groups = await db
    .getRepository(PhraseGroupTable)
    .find({ where: { ownerId: owner.id }, order: { position: 'ASC' } });
  return { seq, phrases: rows.map(shown), groups: groups.map((g) => g.name) };
}

const shown = ({
  id,
  words,
  inGroup,
  focus,
  points,
  colour,
  favKey,
  ink,
  uses,
  usedAt,
  asked,
}: PhraseRow): Phrase => ({
  id,
  words,
  group: inGroup,
  focus,
  points,
  colour,
  key: favKey,
  ink,
  uses,
  usedAt,
  asked: asked ?? [],
});

/** The numbers of these teachers' banks, for those who have them open. */
export const bankNumbers = async (db: Db, owners: readonly string[]) =>
  (await db.getRepository(BankTable).findBy({ ownerId: In([...owners]) })).map((b) => ({
    id: b.ownerId as string,
    seq: b.seq,
  }));

/** Changes a bank: one writer at a time, so that what is counted stands, and whoever has it open hears of it. */
async function changeBank(house: House, owner: Person, work: (tx: Db) => Promise<void>): Promise<BankShape> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, PersonTable, { id: owner.id });
    await work(tx);
    await goUp(tx, owner.id);
  });
  return readBank(house, owner);
}

async function goUp(tx: Db, ownerId: PersonId): Promise<void> {
  const seq = ((await find(tx, BankTable, { ownerId }))?.seq ?? 0) + 1;
  await insertOrUpdate(tx, BankTable, { ownerId, seq }, ['seq']);
}

/** Keeps phrases as they are written now: new ones behind the others, known ones in their place, sent twice as once. All or none. */
export const keepPhrases = (
  house: House,
  owner: Person,
  phrases: readonly PhraseInput[],
): Promise<BankShape> =>
  changeBank(house, owner, async (tx) => {
    const latest = new Map(phrases.map((p) => [p.id, p]));
    const known = await tx.getRepository(PhraseTable).find({ where: { id: In([...latest.keys()]) } });
    // A phrase of somebody else is not there.
    if (known.some((row) => row.ownerId !== owner.id)) throw new Fault('not-found');
    // A key that is given anew leaves the phrase that had it.
    const taken = [...new Set(phrases.flatMap((p) => (p.key ? [p.key] : [])))];
    if (taken.length)
      await tx
        .getRepository(PhraseTable)
        .update({ ownerId: owner.id, favKey: In(taken), id: Not(In([...latest.keys()])) }, { favKey: null });
    for (const { id } of known) {
      await update(tx, PhraseTable, { id }, columnsOf(latest.get(id)!));
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
        (phrase, i): PhraseRow => ({
          id: phrase.id,
          ownerId: owner.id,
          ...columnsOf(phrase),
          uses: 0,
          usedAt: null,
          asked: null,
          createdAt: at + i,
        }),
      ),
    );
  });

const columnsOf = ({ words, group, focus, points, colour, key, ink }: PhraseInput) => ({
  words,
  inGroup: group,
  focus,
  points,
  colour,
  favKey: key,
  ink,
});

/** Takes a phrase out of the bank; comments that were made with it stay as they are. */
export const removePhrase = (house: House, owner: Person, id: PhraseId): Promise<BankShape> =>
  changeBank(house, owner, async (tx) => {
    if ((await remove(tx, PhraseTable, { id, ownerId: owner.id })) === 0) throw new Fault('not-found');
  });

/** The groups in this order from now on; those that are not named follow as they come. */
export const orderGroups = (house: House, owner: Person, groups: readonly string[]): Promise<BankShape> =>
  changeBank(house, owner, async (tx) => {
    await remove(tx, PhraseGroupTable, { ownerId: owner.id });
    const rows = [...new Set(groups)].map((name, position) => ({ ownerId: owner.id, name, position }));
    if (rows.length) await insert(tx, PhraseGroupTable, rows);
  });

/** One phrase of several: it stands as it is, the others go, their uses count for it and are found under it. */
export const mergePhrases = (
  house: House,
  owner: Person,
  id: PhraseId,
  others: readonly PhraseId[],
): Promise<BankShape> =>
  changeBank(house, owner, async (tx) => {
    const gone = [...new Set(others)].filter((other) => other !== id);
    const rows = await tx.getRepository(PhraseTable).findBy({ id: In([id, ...gone]), ownerId: owner.id });
    const stays = rows.find((r) => r.id === id);
    if (!stays || rows.length !== gone.length + 1) throw new Fault('not-found');
    const moments = rows.flatMap((r) => (r.usedAt === null ? [] : [r.usedAt]));
    await update(
      tx,
      PhraseTable,
      { id },
      {
        uses: rows.reduce((sum, r) => sum + r.uses, 0),
        usedAt: moments.length ? Math.max(...moments) : null,
        favKey: stays.favKey ?? rows.find((r) => r.favKey)?.favKey ?? null,
        asked: [...new Set([stays, ...rows].flatMap((r) => r.asked ?? []))].slice(0, MOST_ASKED),
      },
    );
    await tx.getRepository(PhraseUseTable).update({ phraseId: In(gone) }, { phraseId: id });
    await tx.getRepository(PhraseTable).delete({ id: In(gone) });
  });

/** A phrase was put into a copy: it counts, when, in which mark, at which question. */
export async function usePhrase(
  house: House,
  owner: Person,
  id: PhraseId,
  handInId: HandInId,
  at: {
    /** By which a use that is told twice is known; left out: it is told once. */
    readonly id?: MessageId | undefined;
    readonly markId: MarkId | null;
    readonly questionId: QuestionId | null;
  },
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const phrase = await lock(tx, PhraseTable, { id, ownerId: owner.id });
    if (!phrase) throw new Fault('not-found');
    const now = house.now();
    const made = await insertNew(tx, PhraseUseTable, {
      id: at.id ?? makeId(now, randomBytes(10)),
      phraseId: id,
      handInId,
      at: now,
      markId: at.markId,
    });
    if (made === 0) return;
    const asked = at.questionId
      ? [at.questionId, ...(phrase.asked ?? []).filter((q) => q !== at.questionId)].slice(0, MOST_ASKED)
      : phrase.asked;
    await update(tx, PhraseTable, { id }, { uses: phrase.uses + 1, usedAt: now, asked });
  });
}
