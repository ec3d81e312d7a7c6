import {
  type AssignmentId,
  type ChangeId,
  type CopyBatchAnswer,
  type CopyChange,
  type CopyId,
  type DocumentId,
  isStudentColour,
  judgeBatch,
  type Mark,
  type MarkId,
  markOf,
  markText,
  type QuestionId,
  type Refusal,
  readQuestions,
  type Standing,
  type Subject,
  subjectOf,
  type TrailEntry,
  textStep,
  type VersionId,
} from '@jotmark/core';
import { type Batch, BEGIN, COMMIT, inBatch, rowsOf, type Statement } from '../database/batch-pool.ts';
import { as } from '../database/pick.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { hintStatement } from '../live/hint.ts';

/**
 * Takes what a student did into their copy, in order, in one transaction under the copy's row lock. Every change that is taken leaves a step in the
 * working trail. While the copy is with the teacher nothing is. The answer is sent after the commit.
 *
 * Raw: a class types all at once, so it is two trips to the database, one that locks and reads, one that writes and commits (bench: room).
 */
export async function takeCopyChanges(
  house: House,
  copyId: CopyId,
  changes: readonly CopyChange[],
): Promise<CopyBatchAnswer> {
  return inBatch(house.batches, async (tx) => {
    const copy = await lockCopy(tx, copyId, changes);
    const { seq, results, accepted } = judgeBatch(changes, copy.known, (change) => refuse(change, copy));
    const now = new Date(house.now());
    await tx.send(...(accepted.length ? store(copyId, copy, accepted, now) : []), COMMIT);
    return { seq, results };
  });
}

interface LockedCopy {
  readonly assignmentId: AssignmentId;
  /** With the teacher: handed in and not yet handed back. */
  readonly away: boolean;
  readonly known: Standing;
  /** What stands as text at the subjects of the batch. */
  readonly values: ReadonlyMap<Subject, string | null>;
  readonly questions: ReadonlySet<QuestionId>;
  /** Pages of the worksheets, by their document. */
  readonly pages: ReadonlyMap<string, number>;
}

const STANDS = {
  id: as.id<QuestionId & MarkId>(),
  version: as.id<ChangeId>(),
  value: as.maybe(as.text),
} as const;

/** All that is needed to judge a batch, in one packet: what is read after the lock is the newest that was committed. */
async function lockCopy(tx: Batch, copyId: CopyId, changes: readonly CopyChange[]): Promise<LockedCopy> {
  const asked = changes.flatMap((c) => (c.type === 'answer' ? [c.question] : []));
  const drawn = changes.flatMap((c) => (c.type === 'answer' ? [] : [markOf(c)]));
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
      sql: 'SELECT question_id AS id, version, value FROM copy_answer WHERE copy_id = ? AND question_id IN (?)',
      values: [copyId, some(asked)],
    },
    {
      sql: 'SELECT id, version, IF(gone, NULL, value) AS value FROM copy_mark WHERE copy_id = ? AND id IN (?)',
      values: [copyId, some(drawn)],
    },
    {
      sql: `SELECT w.id, w.document_id, d.pages FROM copy_sheet s JOIN worksheet_version w ON w.id = s.version_id
              JOIN document d ON d.id = w.document_id WHERE s.copy_id = ?`,
      values: [copyId],
    },
  );
  const [copy] = rowsOf(copies, { assignment_id: as.id<AssignmentId>() });
  if (!copy) throw new Fault('not-found');
  const [state] = rowsOf(states, { seq: as.count, away: as.maybe(as.flag) });
  const versions = new Map<Subject, ChangeId>();
  const values = new Map<Subject, string | null>();
  for (const row of rowsOf(answers, STANDS)) {
    versions.set(`answer:${row.id}`, row.version);
    values.set(`answer:${row.id}`, row.value);
  }
  for (const row of rowsOf(marks, STANDS)) {
    versions.set(row.id, row.version);
    values.set(row.id, row.value);
  }
  const out = rowsOf(sheets, { id: as.id<VersionId>(), document_id: as.id<DocumentId>(), pages: as.int });
  const questions = new Set<QuestionId>();
  for (const sheet of out) for (const id of await questionsOf(tx, sheet.id)) questions.add(id);
  const taken = rowsOf(known, { change_id: as.id<ChangeId>(), seq: as.int });
  return {
    assignmentId: copy.assignment_id,
    away: state?.away ?? false,
    known: { seq: state!.seq, taken: new Map(taken.map((k) => [k.change_id, k.seq])), versions },
    values,
    questions,
    pages: new Map(out.map((s) => [s.document_id, s.pages])),
  };
}

/** Questions of versions that are out: those never change, so they are read once in the life of a server. */
const questionsOut = new Map<VersionId, ReadonlySet<QuestionId>>();
const MOST_KNOWN = 500;

async function questionsOf(tx: Batch, versionId: VersionId): Promise<ReadonlySet<QuestionId>> {
  const before = questionsOut.get(versionId);
  if (before) return before;
  const [row] = await tx.rows(
    { sql: 'SELECT id, questions FROM worksheet_version WHERE id = ?', values: [versionId] },
    { id: as.id<VersionId>(), questions: as.json(readQuestions) },
  );
  const ids = new Set(row?.questions.map((q) => q.id) ?? []);
  if (questionsOut.size >= MOST_KNOWN) questionsOut.clear();
  questionsOut.set(versionId, ids);
  return ids;
}

/** Whether the newest hand-in is with the teacher. Reads hand-ins and hand-backs, nothing of any marking. */
const AWAY = `SELECT NOT EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id AND b.unfinished = 0) FROM hand_in h
  WHERE h.copy_id = ? ORDER BY h.number DESC LIMIT 1`;

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
  change.type === 'answer' ? change.value : change.type === 'put' ? markText(change.mark) : null;

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
  copyId: CopyId,
  copy: LockedCopy,
  accepted: readonly { readonly change: CopyChange; readonly seq: number }[],
  now: Date,
): Statement[] {
  const values = new Map(copy.values);
  const trail: unknown[][] = [];
  const answers = new Map<QuestionId, unknown[]>();
  const marks = new Map<MarkId, unknown[]>();
  for (const { change, seq } of accepted) {
    const subject = subjectOf(change);
    const value = valueAfter(change);
    const step = stepOf(change, values.get(subject) ?? null);
    values.set(subject, value);
    if (change.type === 'answer') {
      trail.push([copyId, seq, change.id, now, change.question, JSON.stringify(step)]);
      answers.set(change.question, [copyId, change.question, change.id, seq, value]);
    } else {
      const mark = markOf(change);
      trail.push([copyId, seq, change.id, now, mark, JSON.stringify(step)]);
      marks.set(mark, [copyId, mark, change.id, seq, value, value === null]);
    }
  }
  const out: Statement[] = [
    { sql: 'INSERT INTO copy_trail (copy_id, seq, change_id, at, subject, value) VALUES ?', values: [trail] },
  ];
  if (answers.size)
    out.push({
      sql: `INSERT INTO copy_answer (copy_id, question_id, version, seq, value) VALUES ?
            ON DUPLICATE KEY UPDATE version = VALUES(version), seq = VALUES(seq), value = VALUES(value)`,
      values: [[...answers.values()]],
    });
  // A stroke that went keeps its points: the trail shows that it was there.
  if (marks.size)
    out.push({
      sql: `INSERT INTO copy_mark (copy_id, id, version, seq, value, gone) VALUES ?
            ON DUPLICATE KEY UPDATE version = VALUES(version), seq = VALUES(seq), value = COALESCE(VALUES(value), value), gone = VALUES(gone)`,
      values: [[...marks.values()]],
    });
  const last = accepted.findLast(({ change }) => change.type === 'answer')?.change;
  out.push(
    {
      sql: 'UPDATE copy SET worked_at = ?, at_question = COALESCE(?, at_question) WHERE id = ?',
      values: [now, last?.type === 'answer' ? last.question : null, copyId],
    },
    hintStatement({ copyId, assignmentId: copy.assignmentId, kind: 'work', at: now.getTime() }),
  );
  return out;
}
