import type { CopyId, CopyState } from '@jotmark/core';
import { CopyAnswerTable, CopyMarkTable, CopyTrailTable } from '../database/entities/index.ts';
import { as, col, type Db, pickOne } from '../database/pick.ts';
import { textsOf } from './texts.ts';

/** The number of the newest step of a copy's trail; 0 before there is any. */
export async function newestStep(db: Db, copyId: CopyId): Promise<number> {
  const row = await pickOne(
    db.createQueryBuilder(CopyTrailTable, 't').where('t.copyId = :copyId', { copyId }),
    { seq: col('MAX(t.seq)', as.count) },
  );
  return row!.seq;
}

/** A student's copy as it stands: drawing and answers, and the newest number of its trail. */
export async function readCopyState(db: Db, copyId: CopyId): Promise<CopyState> {
  // The number first: what is read after it is at least as new.
  const seq = await newestStep(db, copyId);
  const marks = await db.getRepository(CopyMarkTable).find({ where: { copyId } });
  const answers = await db.getRepository(CopyAnswerTable).find({ where: { copyId } });
  const texts = await textsOf(db, copyId);
  const grown = new Set(texts.map((t) => t.question));
  return {
    seq,
    marks: marks.map((m) => ({ id: m.id, version: m.version, mark: m.gone ? null : m.value })),
    // The words of a text that grows are read from the text.
    answers: answers
      .filter((a) => !grown.has(a.questionId))
      .map((a) => ({ question: a.questionId, value: a.value, version: a.version })),
    texts: texts.map(({ question, update }) => ({ question, update })),
  };
}
