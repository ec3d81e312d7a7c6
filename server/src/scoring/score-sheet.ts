import { type CopyId, placeOf, type ScoreSheet, seenName } from '@jotmark/core';
import { headOfCopy } from '../assignment/head.ts';
import { newestHandIn } from '../copy/away.ts';
import { sheetsOf } from '../copy/sheets.ts';
import { HandBackTable, MarkingTable } from '../database/entities/index.ts';
import { exists } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { readCopyMarking } from '../marking/state.ts';
import { whose } from '../people/students.ts';
import { copyScoring } from './scoring-of.ts';

/** One copy, to be scored without its pages: what is scored lies with the copy, not with a hand-in. */
export async function scoreSheet(house: House, copyId: CopyId): Promise<ScoreSheet> {
  const db = house.db.manager;
  const [newest, students, head, marking, handedBack] = await Promise.all([
    newestHandIn(db, copyId),
    whose(db, copyId),
    headOfCopy(db, copyId),
    find(db, MarkingTable, { copyId, number: 0 }),
    exists(
      db
        .createQueryBuilder(HandBackTable, 'b')
        .where('b.copyId = :copyId AND b.handInId IS NULL AND b.round > 0 AND b.goesOn = 0', { copyId }),
    ),
  ]);
  if (!students || !head) throw new Fault('not-found');
  const handInNumber = newest?.handIn.number ?? 0;
  return {
    copyId,
    assignment: head,
    student: seenName(students),
    handInNumber,
    place: placeOf({
      handIns: handInNumber,
      handedBack: newest?.cameBack ? handInNumber : 0,
      marking: marking && handInNumber === 0 ? { done: marking.done } : null,
      backAlone: handedBack,
    }),
    asked: (await sheetsOf(db, copyId)).map(({ document, questions }) => ({
      document: document.id,
      questions,
    })),
    marking: await readCopyMarking(db, copyId),
    scoring: await copyScoring(db, students.assignmentId, copyId, 0),
    handedBack,
  };
}
