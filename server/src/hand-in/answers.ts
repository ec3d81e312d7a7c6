import { createHash } from 'node:crypto';
import { AnswerKind, type AssignmentId, type CopyId, type HandInId, type QuestionId } from '@jotmark/core';
import { type AnswerKindName, HandInAnswerTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';

/** Equal answers have equal digests: SHA-256 of the text as it was written. */
export const answerDigest = (value: string): string => createHash('sha256').update(value).digest('hex');

const KINDS = AnswerKind.options.map((o) => o.shape.kind.value);

export interface AcrossRow {
  readonly copyId: CopyId;
  readonly handInId: HandInId;
  readonly kind: AnswerKindName;
  readonly value: string;
  readonly digest: string;
  readonly points: number | null;
}

/** What was typed and chosen in one hand-in. */
export async function answersOf(
  db: Db,
  handInId: HandInId,
): Promise<{ question: QuestionId; value: string }[]> {
  const rows = await db.getRepository(HandInAnswerTable).find({ where: { handInId } });
  return rows.map(({ questionId, value }) => ({ question: questionId, value }));
}

/** Questions that were answered otherwise in one hand-in than in another, or in only one of them. */
export async function changedAnswers(db: Db, before: HandInId, after: HandInId): Promise<QuestionId[]> {
  const of = async (handInId: HandInId) => {
    const rows = await db.getRepository(HandInAnswerTable).find({
      select: { questionId: true, digest: true },
      where: { handInId },
    });
    return new Map(rows.map((r) => [r.questionId, r.digest]));
  };
  const [was, is] = [await of(before), await of(after)];
  return [...new Set([...was.keys(), ...is.keys()])].filter((q) => was.get(q) !== is.get(q));
}

/** One question across a pile: what stands at it in the newest hand-in of every copy that answered it. For teachers. */
export async function answersAcross(
  db: Db,
  assignmentId: AssignmentId,
  questionId: QuestionId,
): Promise<AcrossRow[]> {
  return pick(
    db
      .createQueryBuilder(HandInAnswerTable, 'x')
      .innerJoin('x.handIn', 'h')
      .innerJoin('h.copy', 'c')
      .where('c.assignmentId = :assignmentId AND x.questionId = :questionId', { assignmentId, questionId })
      .andWhere('h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)')
      .orderBy('x.digest')
      .addOrderBy('c.id'),
    {
      copyId: col('c.id', as.id<CopyId>()),
      handInId: col('h.id', as.id<HandInId>()),
      kind: col('x.kind', as.oneOf(KINDS)),
      value: col('x.value', as.text),
      digest: col('x.digest', as.text),
      points: col('x.points', as.maybe(as.int)),
    },
  );
}
