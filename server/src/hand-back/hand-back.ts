import {
  type AssignmentId,
  type CopyId,
  type HandBackId,
  type HandInId,
  type Person,
  recordingsIn,
  type Snapshot,
} from '@jotmark/core';
import { In } from 'typeorm';
import { giveHelpFiles } from '../conversation/help-files.ts';
import { newestHandIn } from '../copy/away.ts';
import {
  CopyTable,
  HandBackTable,
  type MarkingRow,
  MarkingTable,
  VoiceHandedBackTable,
} from '../database/entities/index.ts';
import { type Db, exists } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert, insertNew, lock } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hint } from '../live/hint.ts';
import { freeze } from './freeze.ts';

/**
 * Hands back all chosen copies that are marked, at once, in one transaction: each gets its marking frozen, and from then on
 * its students see that. Those not marked stay. Handing back twice hands back once.
 *
 * The locks are taken first, of the copies and then of their markings, and everything is read after them: a change that was acknowledged is in what is
 * frozen, one that comes later is refused.
 */
export async function handBack(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
): Promise<{ handedBack: CopyId[]; kept: CopyId[] }> {
  return inTransaction(house.db, async (tx) => {
    const copies = await tx.getRepository(CopyTable).find({
      where: { assignmentId, id: In([...copyIds]) },
      order: { id: 'ASC' },
      lock: { mode: 'pessimistic_write' },
    });
    const ready: { copyId: CopyId; handInId: HandInId | null; marking: MarkingRow }[] = [];
    for (const { id } of copies) {
      const newest = await newestHandIn(tx, id);
      if (newest ? newest.cameBack : await wentBackAlone(tx, id)) continue;
      const marking = await lock(
        tx,
        MarkingTable,
        newest ? { handInId: newest.handIn.id } : { copyId: id, number: 0 },
      );
      if (marking?.done) ready.push({ copyId: id, handInId: newest?.handIn.id ?? null, marking });
    }
    if (ready.length === 0) throw new Fault('nothing-marked');
    const now = house.now();
    for (const { copyId, handInId, marking } of ready) {
      const content = await freeze(tx, person, marking, handInId);
      const id = newId<HandBackId>(house);
      await insert(tx, HandBackTable, {
        id,
        copyId,
        handInId,
        round: 1,
        handedBackAt: now,
        byId: person.id,
        content,
      });
      const said = [...new Set(recordingsIn(content).map((r) => r.file))];
      if (said.length)
        await insertNew(
          tx,
          VoiceHandedBackTable,
          said.map((sha256) => ({ sha256, handBackId: id })),
        );
      await giveHelpFiles(tx, copyId, [marking.markerId, person.id], wordsIn(content));
      await hint(tx, { assignmentId, copyId, kind: 'hand-back', at: now });
    }
    const handedBack = ready.map((r) => r.copyId);
    return { handedBack, kept: copyIds.filter((id) => !handedBack.includes(id)) };
  });
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

/** What was scored though nothing came in goes back once. */
const wentBackAlone = (tx: Db, copyId: CopyId): Promise<boolean> =>
  exists(
    tx
      .createQueryBuilder(HandBackTable, 'b')
      .where('b.copyId = :copyId AND b.handInId IS NULL AND b.round > 0', { copyId }),
  );
