import type { CopyId } from '@jotmark/core';
import type { House } from '../house.ts';

/** Excuses many at once, or gives them another date; what is not named stays as it is. Copies of other piles are left alone. */
export async function setPileTerms(
  house: House,
  assignmentId: string,
  copyIds: readonly CopyId[],
  terms: { readonly excused?: boolean | undefined; readonly dueAt?: number | null | undefined },
): Promise<void> {
  const set: string[] = [];
  const values: unknown[] = [];
  if (terms.excused !== undefined) {
    set.push('excused = ?');
    values.push(terms.excused);
  }
  if (terms.dueAt !== undefined) {
    set.push('due_at = ?');
    values.push(terms.dueAt === null ? null : new Date(terms.dueAt));
  }
  if (set.length)
    await house.db.query(`UPDATE copy SET ${set.join(', ')} WHERE assignment_id = ? AND id IN (?)`, [
      ...values,
      assignmentId,
      copyIds,
    ]);
}
