import {
  type AssignmentId,
  type CopyId,
  changedSince,
  type HandBackHow,
  type HandBackId,
  type HandInId,
  isMarginMark,
  type Person,
  type PersonId,
  PLAIN_HAND_BACK,
  recordingsIn,
  type Snapshot,
} from '@jotmark/core';
import { In } from 'typeorm';
import { giveHelpFiles } from '../conversation/help-files.ts';
import { addMessage } from '../conversation/messages.ts';
import { newestHandIn } from '../copy/away.ts';
import {
  CopyTable,
  type HandBackRow,
  HandBackTable,
  type MarkingRow,
  MarkingTable,
  RecalledTable,
  VoiceHandedBackTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert, insertNew, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hint } from '../live/hint.ts';
import { studentsOfCopies } from '../news/of-class.ts';
import { tell } from '../news/tell.ts';
import { freeze } from './freeze.ts';

type By = Pick<Person, 'id' | 'given' | 'family'>;

export interface WentBack {
  readonly handedBack: CopyId[];
  readonly kept: CopyId[];
}

/**
 * Hands back all chosen copies that are marked, at once, in one transaction: each gets its marking frozen, and from then on
 * its students see that. Those not marked stay. Handing back twice hands back once.
 */
export async function handBack(
  house: House,
  person: By,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
  how: HandBackHow = PLAIN_HAND_BACK,
): Promise<WentBack> {
  return inTransaction(house.db, async (tx) => {
    const went = await handBackIn(house, tx, person, assignmentId, copyIds, how);
    if (went.handedBack.length === 0) throw new Fault('nothing-marked');
    return went;
  });
}

interface Ready {
  readonly copyId: CopyId;
  readonly handInId: HandInId | null;
  readonly marking: MarkingRow;
  /** What went back of the same hand-in before; null: nothing. */
  readonly before: Pick<HandBackRow, 'round' | 'content'> | null;
}

/**
 * The same in a transaction that does more; nothing marked hands nothing back.
 *
 * The locks are taken first, of the copies and then of their markings, and everything is read after them: a change that was acknowledged is in what is
 * frozen, one that comes later is refused.
 */
export async function handBackIn(
  house: House,
  tx: Db,
  person: By,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
  how: HandBackHow,
): Promise<WentBack> {
  const copies = await tx.getRepository(CopyTable).find({
    where: { assignmentId, id: In([...copyIds]) },
    order: { id: 'ASC' },
    lock: { mode: 'pessimistic_write' },
  });
  const ready: Ready[] = [];
  for (const { id } of copies) {
    const one = await readyToGo(tx, id, how.unfinished);
    if (one) ready.push(one);
  }
  const now = house.now();
  for (const one of ready) {
    await goBack(house, tx, person, one, how, now);
    if (how.cover)
      await addMessage(house, tx, {
        copyId: one.copyId,
        by: person.id,
        words: how.cover,
        cover: true,
        quietly: true,
      });
    await hint(tx, { assignmentId, copyId: one.copyId, kind: 'hand-back', at: now });
  }
  const handedBack = ready.map((r) => r.copyId);
  if (how.tell && handedBack.length)
    await tell(
      house,
      tx,
      (await studentsOfCopies(tx, handedBack)).map(({ copyId, personId }) => ({
        to: personId,
        what: {
          kind: how.unfinished ? 'unfinished' : 'handed-back',
          assignmentId,
          copyId,
          byId: person.id,
          words: how.sentence,
        },
      })),
    );
  return { handedBack, kept: copyIds.filter((id) => !handedBack.includes(id)) };
}

/** The marking of a copy that can go back now, under its lock; null: there is none, it is not marked, or it went back already. */
async function readyToGo(tx: Db, copyId: CopyId, unfinished: boolean): Promise<Ready | null> {
  const newest = await newestHandIn(tx, copyId);
  const handInId = newest?.handIn.id ?? null;
  const before = await newestBack(tx, copyId, handInId);
  if (before && !before.goesOn) return null;
  const marking = await lock(tx, MarkingTable, handInId ? { handInId } : { copyId, number: 0 });
  // Unfinished goes back what was begun; of what nothing came in of only what was called marked.
  const goes = marking && (marking.done || (unfinished && handInId !== null));
  return goes ? { copyId, handInId, marking, before } : null;
}

/** What went back last of a hand-in, or of a copy to which nothing came in. */
export const newestBack = (db: Db, copyId: CopyId, handInId: HandInId | null): Promise<HandBackRow | null> =>
  db
    .createQueryBuilder(HandBackTable, 'b')
    .where('b.copyId = :copyId AND b.handInId <=> :handInId AND b.round > 0', { copyId, handInId })
    .orderBy('b.round', 'DESC')
    .limit(1)
    .getOne();

/** What its student has seen of the same hand-in before: what stands, or what they looked at before it was taken back in. */
async function seenBefore(tx: Db, { copyId, handInId, before }: Ready): Promise<Snapshot | null> {
  if (before) return before.content;
  const recalled = await tx
    .createQueryBuilder(RecalledTable, 'r')
    .where('r.copyId = :copyId AND r.handInId <=> :handInId AND r.seenAt IS NOT NULL', { copyId, handInId })
    .orderBy('r.recalledAt', 'DESC')
    .limit(1)
    .getOne();
  return recalled?.content ?? null;
}

/** Also those that were taken back in have had their number. */
async function nextRound(tx: Db, { copyId, handInId, before }: Ready): Promise<number> {
  const recalled = await tx
    .createQueryBuilder(RecalledTable, 'r')
    .where('r.copyId = :copyId AND r.handInId <=> :handInId', { copyId, handInId })
    .orderBy('r.round', 'DESC')
    .limit(1)
    .getOne();
  return Math.max(before?.round ?? 0, recalled?.round ?? 0) + 1;
}

async function goBack(house: House, tx: Db, person: By, one: Ready, how: HandBackHow, now: number) {
  const { copyId, handInId, marking, before } = one;
  const frozen = await freeze(tx, person, marking, handInId, how);
  const seen = await seenBefore(tx, one);
  const since = seen && changedSince(seen, frozen);
  const content: Snapshot = since ? { ...frozen, since } : frozen;
  const id = newId<HandBackId>(house);
  await insert(tx, HandBackTable, {
    id,
    copyId,
    handInId,
    round: await nextRound(tx, one),
    handedBackAt: now,
    byId: person.id,
    content,
    grade: content.grade,
    notes: content.marks.filter(isMarginMark).length,
    unfinished: how.unfinished,
    goesOn: how.unfinished,
    told: how.tell,
  });
  // It is finished, whatever was open of it before.
  if (before && !how.unfinished) await setGoesOn(tx, copyId, handInId, false);
  const said = [...new Set(recordingsIn(content).map((r) => r.file))];
  if (said.length)
    await insertNew(
      tx,
      VoiceHandedBackTable,
      said.map((sha256) => ({ sha256, handBackId: id })),
    );
  await giveHelpFiles(tx, copyId, [marking.markerId, person.id] as PersonId[], wordsIn(content));
}

export async function setGoesOn(
  tx: Db,
  copyId: CopyId,
  handInId: HandInId | null,
  goesOn: boolean,
): Promise<void> {
  if (handInId) await update(tx, HandBackTable, { copyId, handInId }, { goesOn });
  else
    await tx
      .createQueryBuilder()
      .update(HandBackTable)
      .set({ goesOn })
      .where('copy_id = :copyId AND hand_in_id IS NULL AND round > 0', { copyId })
      .execute();
}

/** All that is said in words in what is handed back. */
const wordsIn = ({ marks, closing, scored }: Snapshot): string[] => [
  closing,
  ...(scored?.rounds ?? []).flatMap((r) => [r.words, ...r.scores.map((s) => s.score.words)]),
  ...marks.flatMap((m) => [
    ...('words' in m ? [m.words] : []),
    ...('reason' in m && m.reason ? [m.reason] : []),
  ]),
];
