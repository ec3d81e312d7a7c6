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
import {
  CopyTable,
  type HandBackRow,
  HandBackTable,
  HandInTable,
  type MarkingRow,
  MarkingTable,
  type RecalledRow,
  RecalledTable,
  VoiceHandedBackTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, insertNew, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hints } from '../live/hint.ts';
import { studentsOfCopies } from '../news/of-class.ts';
import { tell } from '../news/tell.ts';
import { freezeAll } from './freeze.ts';

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

/** A marking under its lock that can go back. */
export interface Ready {
  readonly copyId: CopyId;
  readonly handInId: HandInId | null;
  readonly marking: MarkingRow;
  /** What went back of the same hand-in before; null: nothing. */
  readonly before: Pick<HandBackRow, 'id' | 'round'> | null;
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
  const ready = await readyToGo(
    tx,
    copies.map((c) => c.id),
    how.unfinished,
  );
  const now = house.now();
  await goBack(house, tx, person, await contentsOf(tx, person, assignmentId, ready, how), how, now);
  for (const { copyId } of how.cover ? ready : [])
    await addMessage(house, tx, { copyId, by: person.id, words: how.cover, cover: true, quietly: true });
  await hints(
    tx,
    ready.map(({ copyId }) => ({ assignmentId, copyId, kind: 'hand-back', at: now })),
  );
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

/** The markings of copies that can go back now, under their locks; left out are those that are not marked, or went back already. */
async function readyToGo(tx: Db, copyIds: readonly CopyId[], unfinished: boolean): Promise<Ready[]> {
  if (copyIds.length === 0) return [];
  const newest = new Map(
    (
      await tx
        .createQueryBuilder(HandInTable, 'h')
        .select(['h.id', 'h.copyId'])
        .where('h.copyId IN (:...copyIds)', { copyIds })
        .andWhere('h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = h.copyId)')
        .getMany()
    ).map((h) => [h.copyId, h.id]),
  );
  const backs = await tx.getRepository(HandBackTable).find({
    select: { id: true, copyId: true, handInId: true, round: true, goesOn: true },
    where: { copyId: In([...copyIds]) },
    order: { round: 'ASC' },
  });
  const alone = copyIds.filter((id) => !newest.has(id));
  const markings = await tx.getRepository(MarkingTable).find({
    where: [
      ...(newest.size ? [{ handInId: In([...newest.values()]) }] : []),
      ...(alone.length ? [{ copyId: In(alone), number: 0 }] : []),
    ],
    order: { id: 'ASC' },
    lock: { mode: 'pessimistic_write' },
  });
  const byCopy = new Map(markings.map((m) => [m.copyId, m]));
  return copyIds.flatMap((copyId): Ready[] => {
    const handInId = newest.get(copyId) ?? null;
    const marking = byCopy.get(copyId);
    const before =
      backs.findLast((b) => b.copyId === copyId && b.handInId === handInId && b.round > 0) ?? null;
    if (!marking || (before && !before.goesOn)) return [];
    // Unfinished goes back what was begun; of what nothing came in of only what was called marked.
    return marking.done || (unfinished && handInId !== null) ? [{ copyId, handInId, marking, before }] : [];
  });
}

/** What went back last of a hand-in, or of a copy to which nothing came in. */
export const newestBack = (db: Db, copyId: CopyId, handInId: HandInId | null): Promise<HandBackRow | null> =>
  db
    .createQueryBuilder(HandBackTable, 'b')
    .where('b.copyId = :copyId AND b.handInId <=> :handInId AND b.round > 0', { copyId, handInId })
    .orderBy('b.round', 'DESC')
    .limit(1)
    .getOne();

/** Of a copy's hand-in what was taken back in, the newest first. */
type Recalled = Pick<RecalledRow, 'id' | 'copyId' | 'handInId' | 'round' | 'seenAt'>;

/** What its student has seen of the same hand-in before: what stands, or what they looked at before it was taken back in. */
async function seenBefore(
  tx: Db,
  { before }: Ready,
  recalled: readonly Recalled[],
): Promise<Snapshot | null> {
  if (before) return (await find(tx, HandBackTable, { id: before.id }))!.content;
  const seen = recalled.find((r) => r.seenAt !== null);
  return seen ? (await find(tx, RecalledTable, { id: seen.id }))!.content : null;
}

/** What goes back of one marking, and which hand-back of its hand-in that is. */
export interface Going {
  readonly one: Ready;
  readonly round: number;
  readonly content: Snapshot;
}

/** All that goes back of these markings, with what changed since their students saw it last. Nothing is written: the preview before handing back is this. */
export async function contentsOf(
  tx: Db,
  person: By,
  assignmentId: AssignmentId,
  ready: readonly Ready[],
  how: HandBackHow,
): Promise<Going[]> {
  if (ready.length === 0) return [];
  const all: Recalled[] = await tx.getRepository(RecalledTable).find({
    select: { id: true, copyId: true, handInId: true, round: true, seenAt: true },
    where: { copyId: In(ready.map((r) => r.copyId)) },
    order: { recalledAt: 'DESC', round: 'DESC' },
  });
  const frozen = await freezeAll(tx, person, assignmentId, ready, how);
  const out: Going[] = [];
  for (const one of ready) {
    const recalled = all.filter((r) => r.copyId === one.copyId && r.handInId === one.handInId);
    const seen = await seenBefore(tx, one, recalled);
    const fresh = frozen.get(one.marking.id)!;
    const since = seen && changedSince(seen, fresh);
    out.push({
      one,
      // Also those that were taken back in have had their number.
      round: Math.max(one.before?.round ?? 0, ...recalled.map((r) => r.round), 0) + 1,
      content: since ? { ...fresh, since } : fresh,
    });
  }
  return out;
}

async function goBack(
  house: House,
  tx: Db,
  person: By,
  going: readonly Going[],
  how: HandBackHow,
  now: number,
): Promise<void> {
  const rows: HandBackRow[] = [];
  const voices: { sha256: string; handBackId: HandBackId }[] = [];
  for (const { one, round, content } of going) {
    const { copyId, handInId, marking, before } = one;
    const id = newId<HandBackId>(house);
    rows.push({
      id,
      copyId,
      handInId,
      round,
      handedBackAt: now,
      byId: person.id,
      content,
      grade: content.grade,
      notes: content.marks.filter(isMarginMark).length,
      unfinished: how.unfinished,
      goesOn: how.unfinished,
      told: how.tell,
    });
    for (const sha256 of new Set(recordingsIn(content).map((r) => r.file)))
      voices.push({ sha256, handBackId: id });
    // It is finished, whatever was open of it before.
    if (before && !how.unfinished) await setGoesOn(tx, copyId, handInId, false);
    await giveHelpFiles(tx, copyId, [marking.markerId, person.id] as PersonId[], wordsIn(content));
  }
  // A statement has its limit: so many at once.
  for (let i = 0; i < rows.length; i += AT_ONCE) await insert(tx, HandBackTable, rows.slice(i, i + AT_ONCE));
  if (voices.length) await insertNew(tx, VoiceHandedBackTable, voices);
}

/** Hand-backs that are written in one statement. */
const AT_ONCE = 25;

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
