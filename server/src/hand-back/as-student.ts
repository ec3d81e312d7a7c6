import {
  type CopyId,
  closedOf,
  forReader,
  type HandBackHow,
  type HandBackId,
  type HandBackShape,
  type Person,
  withoutGrade,
} from '@jotmark/core';
import { newestHandIn } from '../copy/away.ts';
import { CopyTable, MarkingTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { find } from '../database/write.ts';
import { filledIn } from '../document/filled.ts';
import { blindNames, documentsOf } from '../document/state.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { whose } from '../people/students.ts';
import { contentsOf, newestBack } from './hand-back.ts';
import { firstBackAt } from './read.ts';

/** A copy as its student would get it now: frozen by the very code that hands back, and not kept. */
export async function asStudent(
  house: House,
  person: Person,
  copyId: CopyId,
  how: HandBackHow,
): Promise<HandBackShape> {
  return inTransaction(house.db, async (tx) => {
    const handIn = (await newestHandIn(tx, copyId))?.handIn ?? null;
    const marking = await find(tx, MarkingTable, handIn ? { handInId: handIn.id } : { copyId, number: 0 });
    if (!marking) throw new Fault('nothing-marked');
    const { assignmentId } = (await find(tx, CopyTable, { id: copyId }))!;
    const handInId = handIn?.id ?? null;
    const ready = { copyId, handInId, marking, before: await newestBack(tx, copyId, handInId) };
    const [going] = await contentsOf(tx, person, assignmentId, [ready], how);
    const { content: snapshot, round } = going!;
    const blind = (await whose(tx, copyId))?.blind ?? true;
    const closed = closedOf(snapshot, new Set());
    return {
      id: newId<HandBackId>(house),
      handInNumber: handIn?.number ?? 0,
      number: round,
      handedBackAt: house.now(),
      firstBackAt: (await firstBackAt(tx, copyId, handInId)) ?? house.now(),
      snapshot: closed ? withoutGrade(forReader(snapshot, null)) : forReader(snapshot, null),
      // The teacher who looks may not know yet whose it is.
      documents: handIn ? blindNames(blind, await documentsOf(tx, handIn.id)) : [],
      filled: handIn ? await filledIn(tx, handIn.id) : [],
      heard: [],
      opened: [],
      closed,
    };
  });
}
