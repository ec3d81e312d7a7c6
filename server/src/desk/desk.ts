import {
  type CopyId,
  type Desk,
  type DocumentState,
  type HandInId,
  namesOnPage,
  promisedUntil,
  type RealName,
  seenName,
  TakingBack,
} from '@jotmark/core';
import { headOfCopy } from '../assignment/head.ts';
import { newestHandIn } from '../copy/away.ts';
import { lateNow } from '../copy/late.ts';
import { CopyTable, MarkingTable } from '../database/entities/index.ts';
import { as, col, type Db, pickOne } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { filledIn } from '../document/filled.ts';
import { readText } from '../document/pages.ts';
import { blindNames, documentsOf } from '../document/state.ts';
import { Fault } from '../fault.ts';
import { newestBack } from '../hand-back/hand-back.ts';
import { firstBackAt } from '../hand-back/read.ts';
import { answersOf } from '../hand-in/answers.ts';
import type { House } from '../house.ts';
import { readMarking } from '../marking/state.ts';
import { nameOf } from '../people/person.ts';
import { whose } from '../people/students.ts';
import { copyScoring } from '../scoring/scoring-of.ts';
import { heardOf } from '../voice/heard.ts';

/** Where a student's own name stands on the pages that they handed in. */
async function namedOn(
  db: Db,
  documents: readonly DocumentState[],
  students: readonly RealName[],
): Promise<Desk['named']> {
  const out: Desk['named'] = [];
  for (const { id, shows } of documents) {
    if (shows !== 'pages') continue;
    for (const [page, text] of (await readText(db, id)).entries())
      out.push(...namesOnPage(text, students).map((box) => ({ document: id, page, box })));
  }
  return out;
}

/** Until when the student was promised to be able to take it back, so that marking cannot begin; null: it can. */
async function openUntil(
  house: House,
  copyId: CopyId,
  handInId: HandInId,
  dueAt: number | null,
): Promise<number | null> {
  const row = await pickOne(
    house.db.manager
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin('c.assignment', 'a')
      .where('c.id = :copyId', { copyId })
      .setParameters({ handInId }),
    {
      rule: col('a.takeBack', as.oneOf(TakingBack.options)),
      begun: col('EXISTS (SELECT 1 FROM marking m WHERE m.hand_in_id = :handInId)', as.flag),
    },
  );
  return row && !row.begun ? promisedUntil(row.rule, dueAt, house.now()) : null;
}

/** All that the desk shows of one copy: its newest hand-in and the marking of it. */
export async function openDesk(house: House, copyId: CopyId): Promise<Desk> {
  const db = house.db.manager;
  // Side by side: a teacher who opens one copy after another waits for the slowest, not for all.
  const [newest, students, head] = await Promise.all([
    newestHandIn(db, copyId),
    whose(db, copyId),
    headOfCopy(db, copyId),
  ]);
  if (!newest || !students || !head) throw new Fault('not-found');
  const { handIn } = newest;
  const handInId: HandInId = handIn.id;
  const [back, documents] = [await newestBack(db, copyId, handInId), await documentsOf(db, handInId)];
  return {
    copyId,
    assignment: head,
    student: seenName(students),
    handIn: {
      id: handInId,
      number: handIn.number,
      handedInAt: handIn.handedInAt,
      late: lateNow(handIn, head.dueAt),
      claimedAt: handIn.claimedAt,
      by: handIn.brought && (await nameOf(db, handIn.byId)),
    },
    handedBack: back !== null && !back.goesOn,
    backs: back?.round ?? 0,
    firstBackAt: back && (await firstBackAt(db, copyId, handInId)),
    heard: back ? await heardOf(db, back.id, null) : [],
    documents: blindNames(students.blind, documents),
    named: students.blind ? await namedOn(db, documents, students.students) : [],
    asked: await filledIn(db, handInId),
    marking: await readMarking(db, handInId),
    scoring: await copyScoring(db, students.assignmentId, copyId, handIn.number),
    answers: await answersOf(db, handInId),
    openUntil: await openUntil(house, copyId, handInId, head.dueAt),
    leftAt: (await find(db, MarkingTable, { handInId }))?.leftAt ?? 0,
  };
}
