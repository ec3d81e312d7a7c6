import type { ChangeId, CopyChange, CopyId, QuestionId } from '@jotmark/core';
import { In, MoreThan, Not } from 'typeorm';
import {
  CopyAnswerTable,
  CopyMarkTable,
  CopyTextTable,
  CopyTextUpdateTable,
} from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { type House, newId } from '../house.ts';
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
  const grown = new Set<QuestionId>();
  // Of a text that was put together since, the whole is given; what is merged twice changes nothing.
  for (const { seq, questionId: question } of await db
    .getRepository(CopyTextTable)
    .find({ select: { copyId: true, questionId: true, seq: true }, where: { copyId } })) {
    grown.add(question);
    const kept = seq > after && (await find(db, CopyTextTable, { copyId, questionId: question }));
    if (kept)
      changes.push({
        seq,
        change: { id: newId<ChangeId>(house), base: null, type: 'text', question, update: kept.state },
      });
  }
  for (const { seq, changeId: id, questionId: question, value } of await db
    .getRepository(CopyTextUpdateTable)
    .find({ where })) {
    grown.add(question);
    changes.push({ seq, change: { id, base: null, type: 'text', question, update: value } });
  }
  // The words of a text come with it.
  const others = grown.size ? { ...where, questionId: Not(In([...grown])) } : where;
  for (const { seq, version: id, questionId, value } of await db
    .getRepository(CopyAnswerTable)
    .find({ where: others }))
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
