import {
  type AnswerKind,
  type AssignmentId,
  type ChangeId,
  type CopyBatchAnswer,
  type CopyChange,
  type CopyId,
  type DocumentId,
  isOwnNote,
  isStudentColour,
  judgeBatch,
  type Mark,
  type MarkId,
  markOf,
  markText,
  type PersonId,
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
import { type Batch, BEGIN, inBatch, rowsOf, type Statement } from '../database/batch-pool.ts';
import { as } from '../database/pick.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { orderJob } from '../jobs/queue.ts';
import { hintStatement } from '../live/hint.ts';
import { type GrownText, grownTexts, isFull, isUpdate, keepRecent, textStatement, write } from './texts.ts';

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
  by: PersonId | null = null,
): Promise<CopyBatchAnswer> {
  const grown: QuestionId[] = [];
  const answer = await inBatch(house.batches, async (tx) => {
    const copy = await lockCopy(house, tx, copyId, changes);
    const { seq, results, accepted } = judgeBatch(changes, copy.known, (change) => refuse(change, copy));
    const now = new Date(house.now());
    await tx.commit(accepted.length ? store(copyId, copy, accepted, now, by) : [], {
      table: 'copy_trail',
      of: 'copy_id',
      id: copyId,
      changes: accepted.map((a) => a.change.id),
    });
    keepRecent(copyId, copy.texts);
    for (const { change, seq: at } of accepted)
      if (change.type === 'text' && at % COMPACT_EVERY === 0) grown.push(change.question);
    return { seq, results };
  });
  for (const question of grown)
    await orderJob(house, house.db.manager, {
      kind: 'compact-text',
      subject: null,
      personId: null,
      input: { copyId, question },
    });
  return answer;
}

/** So many steps of a copy's trail after the last time its texts are put together anew. */
const COMPACT_EVERY = 300;

interface LockedCopy {
  readonly assignmentId: AssignmentId;
  /** With the teacher: handed in and not yet handed back. */
  readonly away: boolean;
  readonly known: Standing;
  /** What stands as text at the subjects of the batch. */
  readonly values: ReadonlyMap<Subject, string | null>;
  readonly questions: ReadonlyMap<QuestionId, AnswerKind['kind']>;
  /** Texts that the batch writes into. */
  readonly texts: ReadonlyMap<QuestionId, GrownText>;
  /** Pages of the worksheets, by their document. */
  readonly pages: ReadonlyMap<string, number>;
}

const STANDS = {
  id: as.id<QuestionId & MarkId>(),
  version: as.id<ChangeId>(),
  value: as.maybe(as.text),
} as const;

const ANSWER = { ...STANDS, seq: as.int } as const;

/** All that is needed to judge a batch, in one packet: what is read after the lock is the newest that was committed. */
async function lockCopy(
  house: House,
  tx: Batch,
  copyId: CopyId,
  changes: readonly CopyChange[],
): Promise<LockedCopy> {
  const written = changes.flatMap((c) => (c.type === 'text' ? [c.question] : []));
  const asked = changes.flatMap((c) => (c.type === 'answer' ? [c.question] : []));
  const drawn = changes.flatMap((c) => (c.type === 'put' || c.type === 'remove' ? [markOf(c)] : []));
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
      // Of a text only which change it stands at: its words are at hand, or read with it.
      sql: `SELECT question_id AS id, version, seq, IF(question_id IN (?), NULL, value) AS value FROM copy_answer
              WHERE copy_id = ? AND question_id IN (?)`,
      values: [some(written), copyId, some([...asked, ...written])],
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
  const newest = new Map<QuestionId, number>();
  for (const row of rowsOf(answers, ANSWER)) {
    newest.set(row.id, row.seq);
    versions.set(`answer:${row.id}`, row.version);
    values.set(`answer:${row.id}`, row.value);
  }
  for (const row of rowsOf(marks, STANDS)) {
    versions.set(row.id, row.version);
    values.set(row.id, row.value);
  }
  const out = rowsOf(sheets, { id: as.id<VersionId>(), document_id: as.id<DocumentId>(), pages: as.int });
  const questions = new Map<QuestionId, AnswerKind['kind']>();
  for (const sheet of out) for (const [id, kind] of await questionsOf(tx, sheet.id)) questions.set(id, kind);
  const taken = rowsOf(known, { change_id: as.id<ChangeId>(), seq: as.int });
  return {
    assignmentId: copy.assignment_id,
    away: state?.away ?? false,
    known: { seq: state!.seq, taken: new Map(taken.map((k) => [k.change_id, k.seq])), versions },
    values,
    questions,
    texts: await grownTexts(
      house.db.manager,
      copyId,
      written.filter((q) => questions.get(q) === 'long'),
      newest,
    ),
    pages: new Map(out.map((s) => [s.document_id, s.pages])),
  };
}

/** Questions of versions that are out: those never change, so they are read once in the life of a server. */
const questionsOut = new Map<VersionId, ReadonlyMap<QuestionId, AnswerKind['kind']>>();
const MOST_KNOWN = 500;

async function questionsOf(
  tx: Batch,
  versionId: VersionId,
): Promise<ReadonlyMap<QuestionId, AnswerKind['kind']>> {
  const before = questionsOut.get(versionId);
  if (before) return before;
  const [row] = await tx.rows(
    { sql: 'SELECT id, questions FROM worksheet_version WHERE id = ?', values: [versionId] },
    { id: as.id<VersionId>(), questions: as.json(readQuestions) },
  );
  const ids = new Map((row?.questions ?? []).map((q) => [q.id, q.answer.kind]));
  if (questionsOut.size >= MOST_KNOWN) questionsOut.clear();
  questionsOut.set(versionId, ids);
  return ids;
}

/** Whether the newest hand-in is with the teacher. Reads hand-ins and hand-backs, nothing of any marking. */
const AWAY = `SELECT NOT EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id AND b.unfinished = 0) FROM hand_in h
  WHERE h.copy_id = ? ORDER BY h.number DESC LIMIT 1`;

function refuse(change: CopyChange, copy: LockedCopy): Refusal | null {
  if (copy.away) return 'handed-in';
  if (change.type === 'answer' || change.type === 'text') {
    const kind = copy.questions.get(change.question);
    if (!kind) return 'no-such-question';
    if ((kind === 'long') !== (change.type === 'text')) return 'no-text';
    if (change.type === 'answer') return null;
    if (isFull(copy.texts.get(change.question)!)) return 'text-full';
    return isUpdate(change.update) ? null : 'no-text';
  }
  if (change.type !== 'put') return null;
  const { mark } = change;
  if (mark.page >= (copy.pages.get(mark.document) ?? 0)) return 'no-such-page';
  const drawn =
    mark.kind === 'ink' || (mark.kind === 'highlight' && mark.place.on === 'free') || isOwnNote(mark);
  return drawn && isStudentColour(mark.colour) ? null : 'not-yours';
}

type Drawing = Exclude<CopyChange, { type: 'answer' | 'text' }>;

const valueAfter = (change: Drawing): string | null => (change.type === 'put' ? markText(change.mark) : null);

const stepOf = (change: Drawing): TrailEntry =>
  change.type === 'put' ? ['+', pointsOf(change.mark)] : ['-'];

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
  by: PersonId | null,
): Statement[] {
  const values = new Map(copy.values);
  const trail: unknown[][] = [];
  const answers = new Map<QuestionId, unknown[]>();
  const texts: unknown[][] = [];
  const marks = new Map<MarkId, unknown[]>();
  const step = (id: string, seq: number, of: string, entry: TrailEntry) =>
    trail.push([copyId, seq, id, now, of, JSON.stringify(entry), by]);
  for (const { change, seq } of accepted) {
    const { id } = change;
    if (change.type === 'answer') {
      const before = values.get(subjectOf(change)) ?? '';
      values.set(subjectOf(change), change.value);
      step(id, seq, change.question, textStep(before, change.value, change.pasted));
      answers.set(change.question, [copyId, change.question, id, seq, change.value]);
    } else if (change.type === 'text') {
      const text = copy.texts.get(change.question)!;
      const before = text.plain;
      const after = write(text, change.update, seq);
      step(id, seq, change.question, textStep(before, after, change.pasted));
      texts.push([copyId, seq, change.question, id, change.update]);
      // Its words stand as its answer too: whoever looks at a class, or counts, need not know how it is written.
      answers.set(change.question, [copyId, change.question, id, seq, after]);
    } else {
      const mark = markOf(change);
      const value = valueAfter(change);
      step(id, seq, mark, stepOf(change));
      marks.set(mark, [copyId, mark, id, seq, value, value === null]);
    }
  }
  const out: Statement[] = [
    {
      sql: 'INSERT INTO copy_trail (copy_id, seq, change_id, at, subject, value, by_id) VALUES ?',
      values: [trail],
    },
  ];
  if (texts.length) out.push(textStatement(texts));
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
  const last = accepted.flatMap(({ change }) =>
    change.type === 'answer' || change.type === 'text' ? [change.question] : [],
  );
  out.push(
    {
      sql: 'UPDATE copy SET worked_at = ?, at_question = COALESCE(?, at_question) WHERE id = ?',
      values: [now, last.at(-1) ?? null, copyId],
    },
    hintStatement({ copyId, assignmentId: copy.assignmentId, kind: 'work', at: now.getTime() }),
  );
  return out;
}
