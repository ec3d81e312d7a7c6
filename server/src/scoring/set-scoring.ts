import {
  type AnswerKey,
  type AssignmentId,
  type GradeChange,
  keyFits,
  type Person,
  type QuestionId,
  readQuestions,
  type ScoringEdit,
  seenName,
  type WorksheetId,
} from '@jotmark/core';
import { gradesFit } from '../assignment/edit.ts';
import {
  AssignmentTable,
  MarkingTable,
  MembershipTable,
  RubricTable,
  RubricVersionTable,
  WorksheetTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { recomputeAll } from '../marking/scored.ts';
import { studentsOf } from '../people/students.ts';

/** Thrown to leave a transaction in which something was only tried. */
class OnlyTried extends Error {
  readonly changes: GradeChange[];

  constructor(changes: GradeChange[]) {
    super('only tried');
    this.changes = changes;
  }
}

/**
 * Changes how an assignment is scored and computes all its grades anew, in one transaction. With `keep` false nothing is kept: what it would change is
 * computed by the very same code and then rolled back.
 */
export async function setScoring(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  edit: ScoringEdit,
  keep: boolean,
): Promise<GradeChange[]> {
  try {
    return await inTransaction(house.db, async (tx) => {
      const a = await lock(tx, AssignmentTable, { id: assignmentId });
      if (!a) throw new Fault('not-found');
      if (edit.rubricVersionId && edit.rubricVersionId !== a.rubricVersionId)
        await mayHang(tx, person, edit.rubricVersionId);
      await gradesFit(tx, assignmentId, edit.most);
      const told = keep && edit.news !== null && a.opensAt !== null;
      await update(
        tx,
        AssignmentTable,
        { id: assignmentId },
        {
          scoring: edit.scoring,
          rubricVersionId: edit.rubricVersionId,
          most: edit.most,
          revision: a.revision + 1,
          ...(told ? { news: edit.news, newsAt: house.now() } : {}),
        },
      );
      const changes = await changesOf(tx, assignmentId);
      if (!keep) throw new OnlyTried(changes);
      return changes;
    });
  } catch (error) {
    if (error instanceof OnlyTried) return error.changes;
    throw error;
  }
}

async function changesOf(tx: Db, assignmentId: AssignmentId): Promise<GradeChange[]> {
  const changed = await recomputeAll(tx, assignmentId);
  if (changed.length === 0) return [];
  const students = await studentsOf(
    tx,
    changed.map((c) => c.copyId),
  );
  const typed = new Set(
    (
      await pick(
        tx
          .createQueryBuilder(MarkingTable, 'm')
          .innerJoin('m.copy', 'c')
          .where('c.assignmentId = :assignmentId AND m.grade IS NOT NULL', { assignmentId }),
        { copyId: col('m.copyId', as.text), grade: col('m.grade', as.int) },
      )
    ).map((r) => r.copyId),
  );
  return changed.flatMap(({ copyId, from, to }) => {
    const copy = students.get(copyId);
    return copy ? [{ copyId, student: seenName(copy), from, to, typed: typed.has(copyId) }] : [];
  });
}

/** One's own rubrics can be hung, and those that a colleague has hung on work of one's classes. */
async function mayHang(tx: Db, person: Person, versionId: ScoringEdit['rubricVersionId']): Promise<void> {
  const version = await find(tx, RubricVersionTable, { id: versionId! });
  const rubric = version && (await find(tx, RubricTable, { id: version.rubricId }));
  if (!rubric) throw new Fault('not-found');
  if (rubric.ownerId === person.id) return;
  const there = await pickOne(
    tx
      .createQueryBuilder(AssignmentTable, 'a')
      .innerJoin('a.rubricVersion', 'v', 'v.rubricId = :id', { id: rubric.id })
      .innerJoin(
        MembershipTable.table,
        't',
        `t.classId = a.classId AND t.role = 'teacher' AND t.personId = :me AND t.leftAt IS NULL`,
        { me: person.id },
      ),
    { id: col('a.id', as.text) },
  );
  if (!there) throw new Fault('not-found');
}

/** Keeps what the answer to a question should be; null: it has no key any more. Grades do not follow: points are offered, never given by themselves. */
export async function saveKey(
  house: House,
  id: WorksheetId,
  questionId: QuestionId,
  key: AnswerKey | null,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const worksheet = await lock(tx, WorksheetTable, { id });
    if (!worksheet) throw new Fault('not-found');
    const versions = await pick(
      tx.createQueryBuilder(WorksheetVersionTable, 'v').where('v.worksheetId = :id', { id }),
      { questions: col('v.questions', as.json(readQuestions)) },
    );
    const asked = versions.flatMap((v) => v.questions).filter((q) => q.id === questionId);
    if (asked.length === 0) throw new Fault('not-found');
    if (key && !asked.some((q) => keyFits(key, q.answer))) throw new Fault('bad-input', { what: 'key' });
    const { [questionId]: _, ...rest } = worksheet.answerKeys ?? {};
    await update(tx, WorksheetTable, { id }, { answerKeys: key ? { ...rest, [questionId]: key } : rest });
  });
}
