import { type AssignmentId, compareNames, type Person, type Pile, type PileRow } from '@jotmark/core';
import { assignmentTop } from '../assignment/head.ts';
import { unreadIn } from '../conversation/unread.ts';
import { AssignmentTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { ordersOf } from '../hand-back/at-time.ts';
import type { House } from '../house.ts';
import { scoringAndAsked } from '../scoring/scoring-of.ts';
import { afterBack } from './after.ts';
import { listCopies, pileRow } from './listing.ts';

/** By the names that are shown: the order of the real ones would tell them. */
const byShownName = (a: PileRow, b: PileRow): number =>
  compareNames(`${a.student.family} ${a.student.given}`, `${b.student.family} ${b.student.given}`);

/** All copies of one assignment, by the students' names. */
export async function readPile(house: House, person: Person, assignmentId: AssignmentId): Promise<Pile> {
  const db = house.db.manager;
  const now = house.now();
  const top = await assignmentTop(db, assignmentId, now);
  const unread = await unreadIn(db, person, assignmentId);
  const after = await afterBack(db, assignmentId);
  const rows = await listCopies(db, [assignmentId], { now, unread, after });
  const left = await listCopies(db, [assignmentId], { now, unread, after, left: true });
  const a = (await find(db, AssignmentTable, { id: assignmentId }))!;
  const { scoring, asked } = await scoringAndAsked(db, a);
  return {
    ...top,
    scoring,
    asked,
    rubric: a.rubricVersionId !== null,
    rows: rows.map(pileRow).sort(byShownName),
    left: left
      .filter((l) => !rows.some((r) => r.copyId === l.copyId))
      .map(pileRow)
      .sort(byShownName),
    orders: await ordersOf(db, assignmentId),
  };
}
