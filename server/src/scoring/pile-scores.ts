import {
  type AssignmentId,
  type CopyId,
  type CriterionScore,
  computeGrade,
  type EveningShape,
  gradeOf,
  normalAnswer,
  type PersonId,
  type PileRow,
  type PileScores,
  type QuestionId,
  type Rubric,
  type ScoreRow,
  type Scores,
  tallyOf,
  type Uneven,
  unevenIn,
  whatIsScored,
} from '@jotmark/core';
import { In } from 'typeorm';
import {
  EveningTable,
  HandBackTable,
  HandInAnswerTable,
  HandInTable,
  MarkingTable,
  MarkTable,
  PersonTable,
  PhraseTable,
  PhraseUseTable,
  ScoreTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import type { House } from '../house.ts';
import { readsOf, type ScoredMarking, scoredMarkings } from '../marking/scored.ts';
import { readScoringOf } from './scoring-of.ts';

/** Half levels counted from 0; −1: not shown. Null: not scored, or to a level that is gone. */
function stepOf(rubric: Rubric, criterion: string, { stands }: CriterionScore): number | null {
  if (!stands) return null;
  if (stands.is === 'not-shown') return -1;
  const levels = rubric.criteria.find((c) => c.id === criterion)?.levels ?? [];
  const at = (id: string) => levels.findIndex((l) => l.id === id);
  const low = at(stands.is === 'level' ? stands.level : stands.lower);
  return low < 0 ? null : low * 2 + (stands.is === 'between' ? 1 : 0);
}

function levelsIn(rubric: Rubric | null, scores: Scores): ScoreRow['levels'] {
  if (!rubric) return [];
  return [...scores].flatMap(([of, score]) => {
    const what = whatIsScored(of);
    if (score.of !== 'criterion' || 'question' in what) return [];
    const step = stepOf(rubric, what.criterion, score);
    return step === null ? [] : [{ round: what.round, criterion: what.criterion, step, at: score.at }];
  });
}

/** What of a marking stands in the table, beside what the pile knows of its copy. */
function scoresIn(
  marking: ScoredMarking,
): Pick<ScoreRow, 'points' | 'levels' | 'sum' | 'computed' | 'troubles' | 'open'> {
  const { scored } = marking;
  const tally = tallyOf(scored.asked, scored.marks, scored.scores);
  const sum = computeGrade(scored);
  return {
    points: tally.lines.flatMap((l) =>
      l.points === null ? [] : [{ question: l.question.id, points: l.points, typed: l.typed !== null }],
    ),
    levels: levelsIn(scored.rubric, scored.scores),
    sum: tally.scored ? tally.sum : null,
    computed: sum.value,
    troubles: tally.lines.reduce((n, l) => n + l.troubles.length, 0) + tally.outside.length,
    open: tally.open.length,
  };
}

/** What the rows of the pile need beside the marking's own columns. */
async function markersOf(db: Db, assignmentId: AssignmentId) {
  const rows = await pick(
    db
      .createQueryBuilder(MarkingTable, 'm')
      .innerJoin('m.copy', 'c')
      .innerJoin(PersonTable.table, 'p', 'p.id = m.markerId')
      .where('c.assignmentId = :assignmentId', { assignmentId }),
    {
      copyId: col('m.copyId', as.id<CopyId>()),
      number: col('m.number', as.int),
      markerId: col('m.markerId', as.id<PersonId>()),
      marker: col(`CONCAT(p.given, ' ', p.family)`, as.text),
      at: col('COALESCE(m.done_at, m.begun_at)', as.moment),
      second: col('m.second', as.maybe(as.json((raw) => ({ ok: true, value: raw as ScoreRow['second'] })))),
      secondVersion: col('m.second_version', as.maybe(as.text)),
    },
  );
  return new Map(rows.map((r) => [`${r.copyId} ${r.number}`, r]));
}

/** A pile as a table of scores: every question and criterion of every copy. `rows` are those of the pile. */
export async function pileScores(
  house: House,
  assignmentId: AssignmentId,
  pile: {
    readonly title: string;
    readonly className: string;
    readonly blind: boolean;
    readonly rows: readonly PileRow[];
  },
): Promise<PileScores> {
  const db = house.db.manager;
  const [scoring, markings, markers, midway, phrases, evenings, stored] = await Promise.all([
    readScoringOf(db, assignmentId, house.now()),
    scoredMarkings(readsOf(db), 'c.assignment_id = ?', [assignmentId]),
    markersOf(db, assignmentId),
    midwayOf(db, assignmentId),
    phrasesWithPoints(db, assignmentId),
    eveningsOf(db, assignmentId),
    versionsOf(db, assignmentId),
  ]);
  const byCopy = new Map(markings.map((m) => [`${m.copyId} ${m.number}`, m]));
  const numbers = new Map(pile.rows.map((r) => [r.copyId, r.handInNumber]));
  const earned = new Map(
    [...numbers].map(([copyId, number]) => {
      const marking = byCopy.get(`${copyId} ${number}`);
      return [copyId, new Map((marking ? scoresIn(marking).points : []).map((p) => [p.question, p.points]))];
    }),
  );
  return {
    sameAnswers: await sameAnswers(
      db,
      assignmentId,
      (copy, question) => earned.get(copy)?.get(question) ?? null,
    ),
    scoring,
    title: pile.title,
    className: pile.className,
    blind: pile.blind,
    phrases,
    evenings,
    rows: pile.rows.map((row): ScoreRow => {
      const key = `${row.copyId} ${row.handInNumber}`;
      const marking = byCopy.get(key);
      const marker = markers.get(key);
      // The midway round lies with the copy, whatever came in since.
      const early = row.handInNumber ? byCopy.get(`${row.copyId} 0`) : undefined;
      const own = marking ? scoresIn(marking) : NOTHING;
      return {
        copyId: row.copyId,
        handInId: row.handInId,
        student: row.student,
        place: row.place,
        cover: row.cover,
        ...own,
        levels: [
          ...own.levels.filter((l) => l.round === 'final' || !early),
          ...(early
            ? levelsIn(early.scored.rubric, early.scored.scores).filter((l) => l.round === 'midway')
            : []),
        ],
        scores: marking
          ? [...marking.scored.scores].map(([of, score]) => ({
              of,
              score,
              version: stored.get(`${marking.id} ${of}`) ?? null,
            }))
          : [],
        typed: row.typed,
        grade: gradeOf(row.typed, own.computed),
        gradeVersion: row.gradeVersion,
        marker: marker ? { id: marker.markerId, name: marker.marker } : null,
        markedAt: marker?.at ?? null,
        second: marker?.second ?? null,
        secondVersion: (marker?.secondVersion ?? null) as ScoreRow['secondVersion'],
        midwayAt: midway.get(row.copyId) ?? null,
      };
    }),
  };
}

const NOTHING: ReturnType<typeof scoresIn> = {
  points: [],
  levels: [],
  sum: null,
  computed: null,
  troubles: 0,
  open: 0,
};

async function versionsOf(
  db: Db,
  assignmentId: AssignmentId,
): Promise<Map<string, ScoreRow['gradeVersion']>> {
  const rows = await pick(
    db
      .createQueryBuilder(ScoreTable, 's')
      .innerJoin('s.marking', 'm')
      .innerJoin('m.copy', 'c')
      .where('c.assignmentId = :assignmentId AND s.version IS NOT NULL', { assignmentId }),
    {
      markingId: col('s.markingId', as.text),
      of: col('s.subject', as.text),
      version: col('s.version', as.text),
    },
  );
  return new Map(rows.map((r) => [`${r.markingId} ${r.of}`, r.version as ScoreRow['gradeVersion']]));
}

async function midwayOf(db: Db, assignmentId: AssignmentId): Promise<Map<CopyId, number>> {
  const rows = await pick(
    db
      .createQueryBuilder(HandBackTable, 'b')
      .innerJoin('b.copy', 'c')
      .where('c.assignmentId = :assignmentId AND b.round = 0', { assignmentId }),
    { copyId: col('c.id', as.id<CopyId>()), at: col('b.handedBackAt', as.moment) },
  );
  return new Map(rows.map((r) => [r.copyId, r.at]));
}

/** Phrases that notes of this pile were made with, and the points that stand on those notes now. */
async function phrasesWithPoints(db: Db, assignmentId: AssignmentId): Promise<PileScores['phrases']> {
  const rows = await pick(
    db
      .createQueryBuilder(PhraseUseTable, 'u')
      .innerJoin(PhraseTable.table, 'p', 'p.id = u.phraseId')
      .innerJoin(HandInTable.table, 'h', 'h.id = u.handInId')
      .innerJoin('h.copy', 'c')
      .innerJoin(MarkingTable.table, 'm', 'm.handInId = h.id')
      .innerJoin(MarkTable.table, 'k', 'k.markingId = m.id AND k.id = u.markId')
      .where('c.assignmentId = :assignmentId', { assignmentId })
      .limit(5000),
    {
      phraseId: col('u.phraseId', as.text),
      words: col('p.words', as.text),
      copyId: col('c.id', as.id<CopyId>()),
      points: col(`CAST(COALESCE(JSON_VALUE(k.value, '$.points'), '') AS CHAR)`, as.text),
    },
  );
  const uneven = unevenIn(
    rows,
    (r) => r.phraseId,
    (r) => (r.points === '' ? null : Number(r.points)),
  );
  return [...uneven.values()].map((parts) => ({ words: parts[0]!.of[0]!.words, parts: parts.map(partOf) }));
}

/** The same typed answer, after case, spaces, number format and unit, with different points. */
async function sameAnswers(
  db: Db,
  assignmentId: AssignmentId,
  pointsOf: (copyId: CopyId, question: QuestionId) => number | null,
): Promise<PileScores['sameAnswers']> {
  const rows = await pick(
    db
      .createQueryBuilder(HandInAnswerTable, 'x')
      .innerJoin('x.handIn', 'h')
      .innerJoin('h.copy', 'c')
      .where(`c.assignmentId = :assignmentId AND x.value <> ''`, { assignmentId })
      .andWhere('h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)')
      .limit(20_000),
    {
      copyId: col('c.id', as.id<CopyId>()),
      question: col('x.questionId', as.id<QuestionId>()),
      value: col('x.value', as.text),
    },
  );
  const uneven = unevenIn(
    rows,
    (r) => `${r.question} ${normalAnswer(r.value)}`,
    (r) => pointsOf(r.copyId, r.question),
  );
  return [...uneven.values()].map((parts) => {
    const { question, value } = parts[0]!.of[0]!;
    return { question, answer: value.slice(0, 400), parts: parts.map(partOf) };
  });
}

const partOf = ({ points, of }: Uneven<{ readonly copyId: CopyId }>) => ({
  points,
  copies: [...new Set(of.map((r) => r.copyId))],
});

async function eveningsOf(db: Db, assignmentId: AssignmentId): Promise<EveningShape[]> {
  const rows = await db
    .getRepository(EveningTable)
    .find({ where: { assignmentId }, order: { at: 'DESC' }, take: 50 });
  const people = rows.length
    ? await db.getRepository(PersonTable).findBy({ id: In(rows.map((e) => e.byId)) })
    : [];
  const names = new Map(people.map((p) => [p.id, `${p.given} ${p.family}`]));
  return rows.map((e) => ({
    id: e.id,
    how: e.how,
    reason: e.reason,
    by: names.get(e.byId) ?? '',
    at: e.at,
    copies: e.changes.length,
    undone: e.undoneAt !== null,
  }));
}
