import {
  type CopyId,
  freezeMarking,
  type HandBackHow,
  type HandInId,
  type MarkingId,
  type Person,
  type ScoredBy,
  type Snapshot,
} from '@jotmark/core';
import { AssignmentTable, CopyTable, type MarkingRow } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { turnsIn } from '../document/pages.ts';
import { backBefore } from '../marking/before.ts';
import { readsOf, scoredMarkings } from '../marking/scored.ts';
import { sheetOf, stateOf } from '../marking/state.ts';
import { hungRubric } from '../rubric/hung.ts';
import { copyScoring } from '../scoring/scoring-of.ts';

/** All that the scores of a marking are made of, read in the transaction that holds it. */
export async function scoringFor(tx: Db, markingId: MarkingId): Promise<ScoredBy> {
  const [one] = await scoredMarkings(readsOf(tx), 'm.id = ?', [markingId]);
  const { most, scoring, asked, late, rubric } = one!.scored;
  return { most, scoring, asked, late, rubric: rubric && { name: await nameOf(tx, one!.copyId), rubric } };
}

async function nameOf(tx: Db, copyId: CopyId): Promise<string> {
  const copy = (await find(tx, CopyTable, { id: copyId }))!;
  const { rubricVersionId } = (await find(tx, AssignmentTable, { id: copy.assignmentId }))!;
  return (await hungRubric(tx, rubricVersionId))?.name ?? '';
}

/** What goes back of a marking, frozen. `number` is that of its hand-in, 0 where nothing came in. */
export async function freeze(
  tx: Db,
  person: Pick<Person, 'given' | 'family'>,
  marking: MarkingRow,
  handInId: HandInId | null,
  how: Pick<HandBackHow, 'unfinished' | 'gradeAfter' | 'reflect'>,
): Promise<Snapshot> {
  const copy = (await find(tx, CopyTable, { id: marking.copyId }))!;
  const { midway, earlier } = await copyScoring(tx, copy.assignmentId, copy.id, marking.number);
  return freezeMarking(sheetOf(await stateOf(tx, marking)), {
    by: await scoringFor(tx, marking.id),
    earlier,
    midway,
    markedBy: `${person.given} ${person.family}`,
    turns: handInId ? await turnsIn(tx, handInId) : {},
    how,
    before: (await backBefore(tx, copy.id, marking.number))?.marks ?? [],
  });
}
