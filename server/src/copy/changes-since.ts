import type { CopyChange, CopyId } from '@jotmark/core';
import { MoreThan } from 'typeorm';
import { CopyAnswerTable, CopyMarkTable } from '../database/entities/index.ts';
import type { House } from '../house.ts';
import { newestStep } from './state.ts';

/**
 * What changed after a step, for a page that missed some: of every answer and stroke its newest state, as a change. Of a stroke that went only that it did.
 */
export async function copyChangesSince(
  house: House,
  copyId: CopyId,
  after: number,
): Promise<{ seq: number; changes: CopyChange[] }> {
  const db = house.db.manager;
  const newest = await newestStep(db, copyId);
  const where = { copyId, seq: MoreThan(after) };
  const changes: { seq: number; change: CopyChange }[] = [];
  for (const { seq, version: id, questionId, value } of await db
    .getRepository(CopyAnswerTable)
    .find({ where }))
    changes.push({
      seq,
      change: { id, base: null, type: 'answer', question: questionId, value, was: value },
    });
  for (const { seq, version: id, id: of, value, gone } of await db
    .getRepository(CopyMarkTable)
    .find({ where }))
    changes.push({
      seq,
      change:
        gone || !value
          ? { id, base: null, type: 'remove', of, was: null }
          : { id, base: null, type: 'put', mark: value, was: null },
    });
  return {
    seq: Math.max(after, newest),
    changes: changes.sort((a, b) => a.seq - b.seq).map((c) => c.change),
  };
}
