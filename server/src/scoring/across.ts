import {
  type Across,
  type AcrossCopy,
  type AnswerKey,
  type Asked,
  type AssignmentId,
  belongsTo,
  type CopyId,
  coverOf,
  type DocumentId,
  findRegion,
  type Mark,
  type PileQuestion,
  type PileRow,
  type Question,
  type QuestionId,
  standsAt,
  tallyOf,
  typedPoints,
} from '@jotmark/core';
import {
  DocumentTable,
  HandInDocumentTable,
  HandInTable,
  MarkTable,
  ScoreTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { readText } from '../document/pages.ts';
import { Fault } from '../fault.ts';
import { answersAcross } from '../hand-in/answers.ts';
import type { House } from '../house.ts';
import { readsOf, type ScoredMarking, scoredMarkings } from '../marking/scored.ts';
import { keysFor, readScoringOf, worksheetsOfAssignment } from './scoring-of.ts';

/** What the view asks of the pile. */
interface PileOf {
  readonly title: string;
  readonly className: string;
  readonly rows: readonly PileRow[];
}

interface Where {
  readonly document: DocumentId | null;
  readonly page: number;
  readonly box: AcrossCopy['box'];
}
const NOWHERE: Where = { document: null, page: 0, box: null };

/** One question of every copy that came in. `pile` holds its rows as they are shown, so that names stay hidden where the pile's are. */
export async function readAcross(
  house: House,
  assignmentId: AssignmentId,
  questionId: QuestionId,
  pile: PileOf,
): Promise<Across> {
  const db = house.db.manager;
  const [scoring, sheets] = await Promise.all([
    readScoringOf(db, assignmentId, house.now()),
    worksheetsOfAssignment(db, assignmentId),
  ]);
  const asked = scoring.asked.find((q) => q.id === questionId);
  if (!asked) throw new Fault('not-found');
  const sheet = sheets.find((s) => s.questions.some((q) => q.id === questionId));
  const question = sheet?.questions.find((q) => q.id === questionId) ?? null;
  const key: AnswerKey | null = (sheet && keysFor(sheet.questions, sheet.keys)[questionId]) ?? null;
  const named = scoring.scoring.questions.find((q) => q.id === questionId) ?? null;
  const inHand = pile.rows.filter((r) => r.handInId !== null);
  const [answers, markings, marks, versions, places] = await Promise.all([
    answersAcross(db, assignmentId, questionId),
    scoredMarkings(readsOf(db), 'c.assignment_id = ?', [assignmentId]),
    marksOf(db, assignmentId),
    versionsOf(db, assignmentId, questionId),
    question
      ? onSheets(db, assignmentId, question)
      : named
        ? onFiles(db, assignmentId, named)
        : new Map<string, Where>(),
  ]);
  const valueIn = new Map(answers.map((a) => [a.handInId, a.value]));
  const markingOf = new Map(markings.map((m) => [`${m.copyId} ${m.number}`, m]));
  const typedAnswer =
    question !== null && question.answer.kind !== 'drawing' && question.answer.kind !== 'none';
  const copies = inHand.map((row): AcrossCopy => {
    const marking = markingOf.get(`${row.copyId} ${row.handInNumber}`);
    const where = places.get(row.handInId!) ?? NOWHERE;
    const line = marking && lineIn(marking, questionId);
    return {
      copyId: row.copyId,
      handInId: row.handInId!,
      student: row.student,
      value: typedAnswer ? (valueIn.get(row.handInId!) ?? '') : null,
      ...where,
      marks: (marks.get(row.copyId) ?? []).filter((m) =>
        isAt(m, where, marking?.scored.asked ?? [], questionId),
      ),
      points: line?.points ?? null,
      typed: marking ? typedPoints(marking.scored.scores, questionId) : null,
      version: versions.get(row.copyId) ?? null,
      handedBack: row.place === 'handed-back',
    };
  });
  return {
    assignmentId,
    title: pile.title,
    className: pile.className,
    graded: scoring.most !== null,
    question: {
      ...asked,
      answer: question?.answer ?? null,
      key,
      worksheetId: sheet?.worksheetId ?? null,
    },
    progress: scoring.asked.map(({ id, label }) => ({
      id,
      label,
      scored: inHand.filter((r) => {
        const marking = markingOf.get(`${r.copyId} ${r.handInNumber}`);
        return marking && lineIn(marking, id)?.points != null;
      }).length,
      of: inHand.length,
    })),
    copies,
  };
}

const lineIn = ({ scored }: ScoredMarking, id: QuestionId) =>
  tallyOf(scored.asked, scored.marks, scored.scores).lines.find((l) => l.question.id === id);

/** A mark is at the question whose points it has, or whose place it stands in. */
function isAt(mark: Mark, where: Where, asked: readonly Asked[], id: QuestionId): boolean {
  if (mark.kind === 'stamp' || mark.kind === 'note') {
    const own = belongsTo(mark, asked);
    if (own) return own.id === id;
  }
  if (!where.box || mark.document !== where.document || mark.page !== where.page) return false;
  const at = standsAt(mark);
  const box = at ? ([at[0], at[1], at[0], at[1]] as const) : coverOf(mark);
  return (
    box !== null &&
    box[0] <= where.box[2] &&
    box[2] >= where.box[0] &&
    box[1] <= where.box[3] &&
    box[3] >= where.box[1]
  );
}

/** Newest hand-ins `h` of copies `c` of an assignment. */
const NEWEST = 'h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)';

async function marksOf(db: Db, assignmentId: AssignmentId): Promise<Map<CopyId, Mark[]>> {
  const rows = await db
    .createQueryBuilder(MarkTable, 'k')
    .innerJoinAndSelect('k.marking', 'm')
    .innerJoin('m.copy', 'c')
    .innerJoin('m.handIn', 'h')
    .where(`c.assignmentId = :assignmentId AND ${NEWEST} AND k.value IS NOT NULL`, { assignmentId })
    .getMany();
  const out = new Map<CopyId, Mark[]>();
  for (const row of rows) {
    const { copyId } = (row as unknown as { marking: { copyId: CopyId } }).marking;
    if (row.value) out.set(copyId, [...(out.get(copyId) ?? []), row.value]);
  }
  return out;
}

async function versionsOf(db: Db, assignmentId: AssignmentId, id: QuestionId) {
  const rows = await pick(
    db
      .createQueryBuilder(ScoreTable, 's')
      .innerJoin('s.marking', 'm')
      .innerJoin('m.copy', 'c')
      .innerJoin(HandInTable.table, 'h', 'h.id = m.handInId')
      .where(`c.assignmentId = :assignmentId AND s.subject = :of AND ${NEWEST}`, {
        assignmentId,
        of: `question:${id}`,
      }),
    { copyId: col('c.id', as.id<CopyId>()), version: col('s.version', as.maybe(as.text)) },
  );
  return new Map(rows.map((r) => [r.copyId, r.version as AcrossCopy['version']]));
}

/** Where a worksheet's question stands in each hand-in. */
async function onSheets(
  db: Db,
  assignmentId: AssignmentId,
  { page, box, id }: Question,
): Promise<Map<string, Where>> {
  const rows = await pick(
    documentsIn(db, assignmentId)
      .innerJoin(WorksheetVersionTable.table, 'v', 'v.id = d.versionId')
      .andWhere(`v.questions LIKE :has`, { has: `%${id}%` }),
    { handInId: col('h.id', as.text), document: col('d.id', as.id<DocumentId>()) },
  );
  return new Map(rows.map((r) => [r.handInId, { document: r.document, page, box }]));
}

/** Where a question that was named for the pile stands: found in each file by its printed line, else where it was drawn. */
async function onFiles(
  db: Db,
  assignmentId: AssignmentId,
  { region }: PileQuestion,
): Promise<Map<string, Where>> {
  const rows = await pick(documentsIn(db, assignmentId).andWhere(`d.shows = 'pages'`).orderBy('x.position'), {
    handInId: col('h.id', as.text),
    document: col('d.id', as.id<DocumentId>()),
    pages: col('d.pages', as.int),
  });
  const out = new Map<string, Where>();
  for (const { handInId, document, pages } of rows) {
    const found = findRegion(region, await readText(db, document), pages);
    const own = out.get(handInId);
    if (found && (!own || found.by === 'print'))
      out.set(handInId, { document, page: found.page, box: found.box });
  }
  return out;
}

const documentsIn = (db: Db, assignmentId: AssignmentId) =>
  db
    .createQueryBuilder(HandInDocumentTable, 'x')
    .innerJoin(DocumentTable.table, 'd', 'd.id = x.documentId')
    .innerJoin('x.handIn', 'h')
    .innerJoin('h.copy', 'c')
    .where(`c.assignmentId = :assignmentId AND ${NEWEST}`, { assignmentId });
