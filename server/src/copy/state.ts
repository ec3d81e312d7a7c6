import type { ChangeId, CopyState, Mark, MarkId, QuestionId } from '@jotmark/core';
import type { Asked } from '../marking/state.ts';

/** A student's copy as it stands: drawing and answers, and the newest sequence number of its trail. */
export async function readCopyState(db: Asked, copyId: string): Promise<CopyState> {
  const [top] = await db.query('SELECT MAX(seq) AS seq FROM copy_trail WHERE copy_id = ?', [copyId]);
  const marks: { id: MarkId; version: ChangeId; value: string | null }[] = await db.query(
    'SELECT id, version, IF(gone, NULL, value) AS value FROM copy_mark WHERE copy_id = ?',
    [copyId],
  );
  const answers: { question_id: QuestionId; version: ChangeId; value: string }[] = await db.query(
    'SELECT question_id, version, value FROM copy_answer WHERE copy_id = ?',
    [copyId],
  );
  return {
    seq: top?.seq ?? 0,
    marks: marks.map((m) => ({
      id: m.id,
      version: m.version,
      mark: m.value === null ? null : (JSON.parse(m.value) as Mark),
    })),
    answers: answers.map((a) => ({ question: a.question_id, value: a.value, version: a.version })),
  };
}
