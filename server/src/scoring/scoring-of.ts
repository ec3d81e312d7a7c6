import {
  type AnswerKeys,
  type Asked,
  type AskedShape,
  type AssignmentId,
  askedOfPile,
  askedOnSheet,
  type CopyId,
  type CopyScoring,
  fullName,
  keyFits,
  plainScoring,
  type Questions,
  readQuestions,
  readSnapshot,
  roundOf,
  type Scoring,
  type ScoringShape,
  saysSomething,
} from '@jotmark/core';
import {
  type AssignmentRow,
  AssignmentTable,
  HandBackTable,
  MaterialTable,
  WorksheetTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { readCopyMarking, sheetOf } from '../marking/state.ts';
import { whose } from '../people/students.ts';
import { hungRubric } from '../rubric/hung.ts';

/** The questions of the worksheets that come with an assignment, each with the key that its worksheet has for it. */
export async function worksheetsOfAssignment(db: Db, assignmentId: AssignmentId) {
  return pick(
    db
      .createQueryBuilder(MaterialTable, 'x')
      .innerJoin(WorksheetVersionTable.table, 'v', 'v.id = x.versionId')
      .innerJoin(WorksheetTable.table, 'w', 'w.id = v.worksheetId')
      .where('x.assignmentId = :assignmentId', { assignmentId })
      .orderBy('x.position'),
    {
      worksheetId: col('w.id', as.text),
      questions: col('v.questions', as.json(readQuestions)),
      keys: col('w.answerKeys', as.maybe(as.json((raw) => ({ ok: true, value: raw as AnswerKeys })))),
    },
  );
}

const bare = ({ id, label, name, most }: Asked): AskedShape => ({ id, label, name, most });

/** What an assignment is scored by: as its teacher said, else as its questions suggest. */
export async function scoringAndAsked(
  db: Db,
  a: Pick<AssignmentRow, 'id' | 'scoring'>,
): Promise<{ scoring: Scoring; asked: AskedShape[] }> {
  const sheets = await worksheetsOfAssignment(db, a.id);
  const onSheets = sheets.flatMap((s) => askedOnSheet(s.questions, null));
  const scoring = a.scoring ?? plainScoring(onSheets.some((q) => (q.most ?? 0) > 0));
  return { scoring, asked: [...onSheets, ...askedOfPile(scoring, null)].map(bare) };
}

export async function readScoringOf(db: Db, assignmentId: AssignmentId, now: number): Promise<ScoringShape> {
  const a = await find(db, AssignmentTable, { id: assignmentId });
  if (!a) throw new Fault('not-found');
  return {
    ...(await scoringAndAsked(db, a)),
    rubric: await hungRubric(db, a.rubricVersionId),
    most: a.most,
    open: a.opensAt !== null && a.opensAt <= now,
  };
}

/** Keys that fit the questions as they were handed out. */
export function keysFor(questions: Questions, keys: AnswerKeys | null): AnswerKeys {
  const out: AnswerKeys = {};
  for (const q of questions) {
    const key = keys?.[q.id];
    if (key && keyFits(key, q.answer)) out[q.id] = key;
  }
  return out;
}

/** All keys of the worksheets of an assignment, where they fit. */
export async function keysOfAssignment(db: Db, assignmentId: AssignmentId): Promise<AnswerKeys> {
  const sheets = await worksheetsOfAssignment(db, assignmentId);
  return Object.assign({}, ...sheets.map((s) => keysFor(s.questions, s.keys)));
}

/** How one copy is scored, beside its marking. `handIn` is the one that is marked, 0 for none. */
export async function copyScoring(
  db: Db,
  assignmentId: AssignmentId,
  copyId: CopyId,
  handIn: number,
): Promise<CopyScoring> {
  const a = (await find(db, AssignmentTable, { id: assignmentId }))!;
  const [{ scoring }, sheets, rubric, midway, backs, who] = await Promise.all([
    scoringAndAsked(db, a),
    worksheetsOfAssignment(db, assignmentId),
    hungRubric(db, a.rubricVersionId),
    readCopyMarking(db, copyId),
    backsOf(db, copyId),
    whose(db, copyId),
  ]);
  const group = who && !who.blind && who.students.length > 1 ? who.students : [];
  const scores = new Map(midway.scores.flatMap((s) => (s.score ? [[s.of, s.score] as const] : [])));
  const round = rubric && roundOf(rubric.rubric, scores, 'midway', sheetOf(midway).slip.midway.value);
  return {
    scoring,
    rubric,
    keys: Object.assign({}, ...sheets.map((s) => keysFor(s.questions, s.keys))),
    midway: round && saysSomething(round) ? round : null,
    midwayAt: backs.find((b) => b.round === 0)?.handedBackAt ?? null,
    // Of each hand-in what it went back with last.
    earlier: [
      ...new Map(
        backs.filter((b) => b.round > 0 && b.number < handIn).map((b) => [b.number, b.content.grade]),
      ).values(),
    ],
    members: group.map((s) => ({ id: s.id, name: fullName(s) })),
  };
}

/** All that went back of a copy, by hand-in. */
async function backsOf(db: Db, copyId: CopyId) {
  return pick(
    db
      .createQueryBuilder(HandBackTable, 'b')
      .leftJoin('b.handIn', 'h')
      .where('b.copyId = :copyId', { copyId })
      .orderBy('b.handedBackAt')
      .addOrderBy('b.round'),
    {
      round: col('b.round', as.int),
      number: col('COALESCE(h.number, 0)', as.int),
      handedBackAt: col('b.handedBackAt', as.moment),
      content: col('b.content', as.json(readSnapshot)),
    },
  );
}
