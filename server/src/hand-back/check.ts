import {
  type AssignmentId,
  type BackWarning,
  type CopyId,
  gradeOf,
  type Person,
  tallyOf,
} from '@jotmark/core';
import { In } from 'typeorm';
import { unreadCounts } from '../conversation/unread.ts';
import { newestHandIn } from '../copy/away.ts';
import { CopyTable, MarkingTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import type { House } from '../house.ts';
import { readsOf, scoredMarkings } from '../marking/scored.ts';

/** What a teacher may want to look at before these copies go back, copy by copy; those with nothing are left out. */
export async function checkHandBack(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
): Promise<{ copyId: CopyId; warnings: BackWarning[] }[]> {
  const db = house.db.manager;
  const copies = await db.getRepository(CopyTable).find({ where: { assignmentId, id: In([...copyIds]) } });
  const unread = await unreadCounts(
    db,
    person,
    copies.map((c) => c.id),
  );
  const scored = new Map(
    (await scoredMarkings(readsOf(db), 'c.assignment_id = ?', [assignmentId])).map((m) => [
      m.id as string,
      m.scored,
    ]),
  );
  const out: { copyId: CopyId; warnings: BackWarning[] }[] = [];
  for (const { id: copyId } of copies) {
    const handIn = (await newestHandIn(db, copyId))?.handIn ?? null;
    const marking = await find(db, MarkingTable, handIn ? { handInId: handIn.id } : { copyId, number: 0 });
    const warnings: BackWarning[] = [];
    if (!marking?.done) warnings.push('unmarked');
    if (unread.get(copyId)) warnings.push('unread-message');
    const by = marking && scored.get(marking.id);
    if (marking && by) {
      const tally = tallyOf(by.asked, by.marks, by.scores);
      if (by.most !== null) {
        if (gradeOf(marking.grade, marking.computed) === null) warnings.push('no-grade');
        if (tally.outside.length || tally.lines.some((l) => l.troubles.length))
          warnings.push('does-not-add-up');
        if (tally.scored > 0 && tally.open.length) warnings.push('questions-open');
        if (marking.grade !== null && marking.computed !== null && marking.grade !== marking.computed)
          warnings.push('typed-over');
      }
      if (marking.closing.trim() === '' && !marking.voice) warnings.push('no-closing-words');
    }
    if (warnings.length) out.push({ copyId, warnings });
  }
  return out;
}
