import {
  askedOfPile,
  askedOnSheet,
  type CopyId,
  computeGrade,
  type DocumentId,
  type Flow,
  type Mark,
  type MarkingId,
  type ScoreOf as Of,
  plainScoring,
  pointsOn,
  type Questions,
  readMark,
  readQuestions,
  readRubric,
  readScoring,
  type Score,
  type Scored,
  ScoreOf,
  Score as ScoreShape,
} from '@jotmark/core';
import { LATE } from '../copy/late.ts';
import type { Batch } from '../database/batch-pool.ts';
import { as, type Db, type Reader, readRows } from '../database/pick.ts';

/** Runs one statement that reads, in whatever transaction. */
export type Reads = (sql: string, values: readonly unknown[]) => Promise<readonly unknown[]>;

export const readsOf =
  (db: Db): Reads =>
  (sql, values) =>
    db.query(sql, [...values]);
export const readsOfBatch =
  (batch: Batch): Reads =>
  async (sql, values) =>
    (await batch.send({ sql, values }))[0] as unknown[];

/** A marking with all that its grade is computed from. */
export interface ScoredMarking {
  readonly id: MarkingId;
  readonly copyId: CopyId;
  /** The hand-in's number, 0 for none. */
  readonly number: number;
  readonly computed: number | null;
  readonly scored: Scored;
}

/** The driver parses what the server marks as JSON, which not all of its versions do. */
const sheets: Reader<readonly (readonly [DocumentId, string, (readonly Flow[] | null)?])[]> = (value) =>
  typeof value === 'string' ? JSON.parse(value) : ((value as [DocumentId, string][] | null) ?? []);

/** So many different texts are remembered at the most. */
const REMEMBERED = 1000;

/** The rows of a pile say the same again and again: each text is read once. */
function onceEach<T>(reader: Reader<T>): Reader<T> {
  const known = new Map<unknown, T>();
  return (text, at) => {
    const before = known.get(text);
    if (before !== undefined) return before;
    if (known.size >= REMEMBERED) known.clear();
    const value = reader(text, at);
    known.set(text, value);
    return value;
  };
}

const CONTEXT = {
  id: as.id<MarkingId>(),
  copyId: as.id<CopyId>(),
  number: as.int,
  computed: as.maybe(as.int),
  lifted: as.flag,
  most: as.maybe(as.int),
  scoring: onceEach(as.maybe(as.json(readScoring))),
  rubric: onceEach(as.maybe(as.json(readRubric))),
  late: as.count,
  sheets,
  first: as.maybe(as.id<DocumentId>()),
} as const;

/** Of `m` with its copy `c` and assignment `a`. */
const CONTEXTS = `SELECT m.id, m.copy_id AS copyId, m.number, m.computed, m.lifted, a.most, a.scoring, rv.content AS rubric, COALESCE(${LATE}, 0) AS late,
    IF(m.hand_in_id IS NULL,
      (SELECT JSON_ARRAYAGG(JSON_ARRAY(w.document_id, w.id) ORDER BY s.position) FROM copy_sheet s JOIN worksheet_version w ON w.id = s.version_id WHERE s.copy_id = m.copy_id),
      (SELECT JSON_ARRAYAGG(JSON_ARRAY(d.id, d.version_id, JSON_COMPACT(d.flows)) ORDER BY hd.position) FROM hand_in_document hd JOIN document d ON d.id = hd.document_id
        WHERE hd.hand_in_id = m.hand_in_id AND d.version_id IS NOT NULL)) AS sheets,
    (SELECT d.id FROM hand_in_document hd JOIN document d ON d.id = hd.document_id AND d.shows = 'pages' WHERE hd.hand_in_id = m.hand_in_id ORDER BY hd.position LIMIT 1) AS first
  FROM marking m JOIN copy c ON c.id = m.copy_id JOIN assignment a ON a.id = c.assignment_id LEFT JOIN rubric_version rv ON rv.id = a.rubric_version_id
    LEFT JOIN hand_in h ON h.id = m.hand_in_id`;

/** Marks that may have points; which of them do is seen when they are read. By bytes: long strokes are searched, and by letters that takes several times as long. */
const MARKS = `SELECT marking_id AS id, value FROM mark WHERE marking_id IN (?)
  AND (INSTR(BINARY value, '"kind":"stamp"') OR (INSTR(BINARY value, '"kind":"note"') AND INSTR(BINARY value, '"points":')))`;
const SCORES =
  'SELECT marking_id AS id, subject, value FROM score WHERE marking_id IN (?) AND value IS NOT NULL';

/** A score is taken even where a worksheet's questions cannot be read: then there are none to count for. */
function questionsAsFarAsRead(raw: unknown): { readonly ok: true; readonly value: Questions } {
  const read = readQuestions(raw);
  return read.ok ? read : { ok: true, value: [] };
}
const QUESTIONS = 'SELECT id, questions FROM worksheet_version WHERE id IN (?)';
const questionsRow = { id: as.text, questions: as.json(questionsAsFarAsRead) } as const;

const markRow = {
  id: as.id<MarkingId>(),
  value: as.json((raw) => ({ ok: true, value: readMark(raw) })),
} as const;
const scoreRow = {
  id: as.id<MarkingId>(),
  subject: onceEach((v: unknown): Of => ScoreOf.parse(v)),
  value: onceEach(as.json((raw) => ({ ok: true, value: ScoreShape.parse(raw) }))),
} as const;

async function marksWithPoints(
  reads: Reads,
  ids: readonly MarkingId[],
): Promise<ReadonlyMap<MarkingId, readonly Mark[]>> {
  const marks = new Map<MarkingId, Mark[]>();
  for (const { id, value } of readRows(await reads(MARKS, [ids]), markRow))
    if (pointsOn(value) !== null) marks.set(id, [...(marks.get(id) ?? []), value]);
  return marks;
}

/**
 * Markings with all that their grades are computed from, in four statements however many there are. `where` is about marking `m`, copy `c` and
 * assignment `a`.
 *
 * Raw: it is read inside the transaction that a pen waits for, and over whole piles (bench: recomputing the grades of 400 copies).
 */
export async function scoredMarkings(
  reads: Reads,
  where: string,
  values: readonly unknown[],
  /** The marks of each, where they are at hand already; null: they are read. */
  atHand: ReadonlyMap<MarkingId, readonly Mark[]> | null = null,
): Promise<ScoredMarking[]> {
  const contexts = readRows(await reads(`${CONTEXTS} WHERE ${where}`, values), CONTEXT);
  if (contexts.length === 0) return [];
  const ids = contexts.map((c) => c.id);
  const marks = atHand ?? (await marksWithPoints(reads, ids));
  const scores = new Map<MarkingId, Map<Of, Score>>();
  for (const { id, subject, value } of readRows(await reads(SCORES, [ids]), scoreRow)) {
    const own = scores.get(id) ?? new Map<Of, Score>();
    own.set(subject, value);
    scores.set(id, own);
  }
  const versions = [...new Set(contexts.flatMap((c) => c.sheets.map(([, version]) => version)))];
  const rows = versions.length ? readRows(await reads(QUESTIONS, [versions]), questionsRow) : [];
  const questionsOf = new Map(rows.map((r) => [r.id, r.questions]));
  return contexts.map((c) => {
    const onSheets = c.sheets.flatMap(([document, version, flows]) =>
      askedOnSheet(questionsOf.get(version) ?? [], document, flows ?? []),
    );
    const scoring = c.scoring ?? plainScoring(onSheets.some((q) => (q.most ?? 0) > 0));
    return {
      id: c.id,
      copyId: c.copyId,
      number: c.number,
      computed: c.computed,
      scored: {
        most: c.most,
        scoring,
        asked: [...onSheets, ...askedOfPile(scoring, c.first)],
        rubric: c.rubric,
        marks: (marks.get(c.id) ?? [])
          .filter((m) => pointsOn(m) !== null)
          .toSorted((x, y) => (x.id < y.id ? -1 : 1)),
        scores: scores.get(c.id) ?? new Map(),
        late: c.late,
        lifted: c.lifted,
      },
    };
  });
}

/** Computes the grade of one marking anew in the transaction that changed its scores; gives the statement that keeps it. */
export async function recomputed(batch: Batch, id: MarkingId): Promise<{ sql: string; values: unknown[] }[]> {
  const [one] = await scoredMarkings(readsOfBatch(batch), 'm.id = ?', [id]);
  if (!one) return [];
  const { value } = computeGrade(one.scored);
  return value === one.computed
    ? []
    : [{ sql: 'UPDATE marking SET computed = ? WHERE id = ?', values: [value, id] }];
}

/** What one sheet more could change in a grade: so many are written in one statement. */
const AT_ONCE = 500;

/**
 * Computes all grades of an assignment anew, those that were handed back excepted: they are frozen. The caller holds the lock on the assignment, so that no
 * score is taken in between. Gives each that changed.
 */
export async function recomputeAll(
  tx: Db,
  assignmentId: string,
): Promise<{ copyId: CopyId; from: number | null; to: number | null }[]> {
  const all = await scoredMarkings(
    readsOf(tx),
    'c.assignment_id = ? AND NOT EXISTS (SELECT 1 FROM hand_back b WHERE b.copy_id = m.copy_id AND b.hand_in_id <=> m.hand_in_id AND b.round > 0 AND b.goes_on = 0)',
    [assignmentId],
  );
  const changed = all.flatMap((one) => {
    const to = computeGrade(one.scored).value;
    return to === one.computed ? [] : [{ id: one.id, copyId: one.copyId, from: one.computed, to }];
  });
  for (let i = 0; i < changed.length; i += AT_ONCE) {
    const some = changed.slice(i, i + AT_ONCE);
    await tx.query(
      `UPDATE marking SET computed = CASE id ${some.map(() => 'WHEN ? THEN ?').join(' ')} END WHERE id IN (?)`,
      [...some.flatMap((c) => [c.id, c.to]), some.map((c) => c.id)],
    );
  }
  return changed.map(({ copyId, from, to }) => ({ copyId, from, to }));
}
