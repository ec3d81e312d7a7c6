import {
  type ChangeId,
  type CopyBatchAnswer,
  type CopyChange,
  type CopyId,
  isStudentColour,
  judge,
  type Mark,
  type MarkId,
  type Question,
  type QuestionId,
  type TrailEntry,
  textStep,
} from '@jotmark/core';
import { type Batch, BEGIN, COMMIT, inBatch, type Statement } from '../database/batch-pool.ts';
import type { House } from '../house.ts';
import { hintStatement } from '../live/hint.ts';

type Result = CopyBatchAnswer['results'][number];
type Refusal = NonNullable<Result['reason']>;

/**
 * Takes what a student did into their copy, in order, in one transaction under the copy's row lock. Each change counts once;
 * one made on something that no longer stands is a conflict and changes nothing. Every change leaves a step in the working
 * trail. While the copy is with the teacher nothing is taken. The answer is sent after the commit. A class types all at once, so it is
 * two trips to the database: one that locks and reads, one that writes and commits.
 */
export async function takeCopyChanges(
  house: House,
  copyId: CopyId,
  changes: readonly CopyChange[],
): Promise<CopyBatchAnswer> {
  return inBatch(house.batches, async (tx) => {
    const copy = await lockCopy(tx, copyId, changes);
    let { seq } = copy;
    const trail: unknown[][] = [];
    const now = new Date(house.now());
    const results = changes.map((change): Result => {
      const before = copy.known.get(change.id);
      if (before !== undefined) return { id: change.id, outcome: 'already', reason: null, seq: before };
      const subject = change.type === 'answer' ? change.question : change.mark.id;
      const stands = copy.standing.get(subject) ?? null;
      const refusal = refuse(change, copy);
      if (refusal) return { id: change.id, outcome: 'refused', reason: refusal, seq: null };
      if (judge(change, stands?.version ?? null, false) === 'conflict')
        return { id: change.id, outcome: 'conflict', reason: null, seq: null };
      seq++;
      copy.known.set(change.id, seq);
      copy.standing.set(subject, { version: change.id, value: valueAfter(change), seq, changed: true });
      trail.push([
        copyId,
        seq,
        change.id,
        now,
        subject,
        JSON.stringify(stepOf(change, stands?.value ?? null)),
      ]);
      return { id: change.id, outcome: 'applied', reason: null, seq };
    });
    await tx.send(...(trail.length ? store(copyId, copy, changes, trail, now) : []), COMMIT);
    return { seq, results };
  });
}

interface Standing {
  readonly version: ChangeId;
  readonly value: string | null;
  readonly seq: number;
  readonly changed: boolean;
}

interface LockedCopy {
  readonly assignmentId: string;
  readonly seq: number;
  /** With the teacher: handed in and not yet handed back. */
  readonly away: boolean;
  readonly known: Map<ChangeId, number>;
  readonly standing: Map<QuestionId | MarkId, Standing>;
  readonly questions: ReadonlySet<QuestionId>;
  /** Pages of the worksheets, by their document. */
  readonly pages: ReadonlyMap<string, number>;
}

/** All that is needed to judge a batch, in one packet: what is read after the lock is the newest that was committed. */
async function lockCopy(tx: Batch, copyId: string, changes: readonly CopyChange[]): Promise<LockedCopy> {
  const asked = changes.flatMap((c) => (c.type === 'answer' ? [c.question] : []));
  const drawn = changes.flatMap((c) => (c.type === 'answer' ? [] : [c.mark.id]));
  const some = (ids: readonly string[]) => (ids.length ? ids : ['']);
  const [, copies, states, known, answers, marks, sheets] = await tx.send(
    BEGIN,
    { sql: 'SELECT assignment_id FROM copy WHERE id = ? FOR UPDATE', values: [copyId] },
    {
      sql: `SELECT (SELECT MAX(seq) FROM copy_trail WHERE copy_id = ?) AS seq, (${AWAY}) AS away`,
      values: [copyId, copyId],
    },
    {
      sql: 'SELECT change_id, seq FROM copy_trail WHERE copy_id = ? AND change_id IN (?)',
      values: [copyId, changes.map((c) => c.id)],
    },
    {
      sql: 'SELECT question_id AS id, version, value, seq FROM copy_answer WHERE copy_id = ? AND question_id IN (?)',
      values: [copyId, some(asked)],
    },
    {
      sql: 'SELECT id, version, IF(gone, NULL, value) AS value, seq FROM copy_mark WHERE copy_id = ? AND id IN (?)',
      values: [copyId, some(drawn)],
    },
    {
      sql: `SELECT w.id, w.document_id, d.pages FROM copy_sheet s JOIN worksheet_version w ON w.id = s.version_id
              JOIN document d ON d.id = w.document_id WHERE s.copy_id = ?`,
      values: [copyId],
    },
  );
  const state = states?.[0];
  const standing = new Map<QuestionId | MarkId, Standing>();
  for (const r of [...(answers ?? []), ...(marks ?? [])])
    standing.set(r.id, { ...(r as Standing), changed: false });
  const questions = new Set<QuestionId>();
  for (const sheet of sheets ?? []) for (const id of await questionsOf(tx, sheet.id)) questions.add(id);
  return {
    assignmentId: copies?.[0]?.assignment_id,
    seq: state?.seq ?? 0,
    away: Boolean(Number(state?.away ?? 0)),
    known: new Map((known ?? []).map((k) => [k.change_id, k.seq])),
    standing,
    questions,
    pages: new Map((sheets ?? []).map((s) => [s.document_id, s.pages])),
  };
}

/** Questions of versions that are out: those never change, so they are read once in the life of a server. */
const questionsOut = new Map<string, ReadonlySet<QuestionId>>();
const MOST_KNOWN = 500;

async function questionsOf(tx: Batch, versionId: string): Promise<ReadonlySet<QuestionId>> {
  const before = questionsOut.get(versionId);
  if (before) return before;
  const [row] = await tx.query('SELECT questions FROM worksheet_version WHERE id = ?', [versionId]);
  const ids = new Set((JSON.parse(row.questions) as Question[]).map((q) => q.id));
  if (questionsOut.size >= MOST_KNOWN) questionsOut.clear();
  questionsOut.set(versionId, ids);
  return ids;
}

const AWAY = `SELECT NOT EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id) FROM hand_in h
  WHERE h.copy_id = ? ORDER BY h.number DESC LIMIT 1`;

/** Whether the newest hand-in is with the teacher. Reads hand-ins and hand-backs, nothing of any marking. */
export async function isAway(
  db: { query(sql: string, values: unknown[]): Promise<{ away: number }[]> },
  copyId: string,
): Promise<boolean> {
  const [row] = await db.query(`SELECT (${AWAY}) AS away`, [copyId]);
  return Boolean(Number(row?.away ?? 0));
}

function refuse(change: CopyChange, copy: LockedCopy): Refusal | null {
  if (copy.away) return 'handed-in';
  if (change.type === 'answer') return copy.questions.has(change.question) ? null : 'no-such-question';
  if (change.type !== 'put') return null;
  const { mark } = change;
  if (mark.page >= (copy.pages.get(mark.document) ?? 0)) return 'no-such-page';
  const drawn = mark.kind === 'ink' || (mark.kind === 'highlight' && mark.place.on === 'free');
  return drawn && isStudentColour(mark.colour) ? null : 'not-yours';
}

const valueAfter = (change: CopyChange): string | null =>
  change.type === 'answer' ? change.value : change.type === 'put' ? JSON.stringify(change.mark) : null;

function stepOf(change: CopyChange, before: string | null): TrailEntry {
  if (change.type === 'answer') return textStep(before ?? '', change.value, change.pasted);
  return change.type === 'put' ? ['+', pointsOf(change.mark)] : ['-'];
}

const pointsOf = (mark: Mark): number =>
  mark.kind === 'ink'
    ? mark.points.length / 3
    : mark.kind === 'highlight' && mark.place.on === 'free'
      ? mark.place.points.length / 3
      : 0;

/** The statements that keep what was taken: the trail, what stands now, where the hand is, and a hint for who looks on. */
function store(
  copyId: string,
  copy: LockedCopy,
  changes: readonly CopyChange[],
  trail: unknown[][],
  now: Date,
): Statement[] {
  const row = (id: QuestionId | MarkId) => {
    const stands = copy.standing.get(id);
    return stands?.changed ? [[copyId, id, stands.version, stands.seq, stands.value]] : [];
  };
  const unique = <T>(list: readonly T[]) => [...new Set(list)];
  const answers = unique(changes.flatMap((c) => (c.type === 'answer' ? [c.question] : []))).flatMap(row);
  const marks = unique(changes.flatMap((c) => (c.type === 'answer' ? [] : [c.mark.id]))).flatMap(row);
  const out: Statement[] = [
    { sql: 'INSERT INTO copy_trail (copy_id, seq, change_id, at, subject, value) VALUES ?', values: [trail] },
  ];
  if (answers.length)
    out.push({
      sql: `INSERT INTO copy_answer (copy_id, question_id, version, seq, value) VALUES ?
            ON DUPLICATE KEY UPDATE version = VALUES(version), seq = VALUES(seq), value = VALUES(value)`,
      values: [answers],
    });
  // A stroke that went keeps its points: the trail shows that it was there.
  if (marks.length)
    out.push({
      sql: `INSERT INTO copy_mark (copy_id, id, version, seq, value, gone) VALUES ?
            ON DUPLICATE KEY UPDATE version = VALUES(version), seq = VALUES(seq), value = COALESCE(VALUES(value), value), gone = VALUES(gone)`,
      values: [marks.map((m) => [...m, m[4] === null])],
    });
  const last = changes.findLast((c) => c.type === 'answer');
  out.push(
    {
      sql: 'UPDATE copy SET worked_at = ?, at_question = COALESCE(?, at_question) WHERE id = ?',
      values: [now, last?.type === 'answer' ? last.question : null, copyId],
    },
    hintStatement({ copyId, assignmentId: copy.assignmentId, kind: 'work', at: now }),
  );
  return out;
}

/**
 * What changed after a sequence number, for a page that missed some: of every answer and stroke its newest state, as a change.
 */
export async function copyChangesSince(
  house: House,
  copyId: string,
  after: number,
): Promise<{ seq: number; changes: CopyChange[] }> {
  const [top] = await house.db.query('SELECT MAX(seq) AS seq FROM copy_trail WHERE copy_id = ?', [copyId]);
  const answers = await house.db.query(
    'SELECT question_id, version, seq, value FROM copy_answer WHERE copy_id = ? AND seq > ?',
    [copyId, after],
  );
  const marks = await house.db.query(
    'SELECT id, version, seq, IF(gone, NULL, value) AS value FROM copy_mark WHERE copy_id = ? AND seq > ?',
    [copyId, after],
  );
  const changes: { seq: number; change: CopyChange }[] = [];
  for (const a of answers)
    changes.push({
      seq: a.seq,
      change: {
        id: a.version,
        base: null,
        type: 'answer',
        question: a.question_id,
        value: a.value,
        was: a.value,
      },
    });
  for (const m of marks)
    if (m.value !== null)
      changes.push({
        seq: m.seq,
        change: { id: m.version, base: null, type: 'put', mark: JSON.parse(m.value), was: null },
      });
    else
      changes.push({ seq: m.seq, change: { id: m.version, base: null, type: 'remove', mark: gone(m.id) } });
  return {
    seq: Math.max(after, top?.seq ?? 0),
    changes: changes.sort((a, b) => a.seq - b.seq).map((c) => c.change),
  };
}

/** A stroke that was taken away, of which only the id is known: enough to take it away elsewhere. */
function gone(id: MarkId): Mark {
  return {
    v: 1,
    id,
    document: id as never,
    page: 0,
    colour: 'graphite',
    focus: null,
    madeAt: 0,
    kind: 'ink',
    points: [0, 0, 0],
    width: 1,
  };
}
