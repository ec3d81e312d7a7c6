import type { Change } from '../changes/change.ts';
import type { PileRow } from '../contract/shapes.ts';
import { placeOf } from '../copy/place.ts';
import { gradeOf } from '../grade/entered.ts';

/**
 * A line of the pile with changes of its slip that the pile may not have heard of yet, in their order: what was typed a moment ago, or without a
 * network. The line itself when nothing of it changes.
 */
export function withWrites(row: PileRow, changes: readonly Change[]): PileRow {
  let now = row;
  for (const change of changes) {
    if (change.type !== 'write' || change.was === change.value) continue;
    if (change.field === 'grade')
      now = {
        ...now,
        typed: change.value,
        grade: gradeOf(change.value, now.computed),
        gradeVersion: change.id,
        place: begun(now, now.place === 'marked'),
      };
    else if (change.field === 'done')
      now = { ...now, doneVersion: change.id, place: begun(now, change.value) };
  }
  return now;
}

const begun = (row: PileRow, done: boolean) =>
  row.place === 'handed-back'
    ? row.place
    : placeOf({ handIns: row.handInNumber, handedBack: 0, marking: { done }, backAlone: false });
