import {
  type BatchAnswer,
  type MarkingChange as Change,
  type ChangeId,
  type DocumentId,
  judge,
  type MarkId,
  type Person,
  type Subject,
  subjectOf,
} from '@jotmark/core';
import { type Batch, BEGIN, COMMIT, inBatch, type Statement } from '../database/batch-pool.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { type Asked, readMarks, SLIP_COLUMNS, slipOf } from './state.ts';

type Result = BatchAnswer['results'][number];
type Refusal = NonNullable<Result['reason']>;

/**
 * Takes a batch of changes into a marking, in order, in one transaction under the marking's row lock. Each counts
 * once, by its id; one made on something that no longer stands is a conflict and changes nothing. The answer is sent after the commit.
 */
export async function takeChanges(
  house: House,
  person: Person,
  handInId: string,
  changes: readonly Change[],
): Promise<BatchAnswer> {
  return inBatch(house.batches, async (tx) => {
    const row = await lockMarking(house, tx, person, handInId, changes);
    const { known, versions } = row;
    let seq = row.seq;
    const accepted: { change: Change; seq: number }[] = [];
    const results = changes.map((change): Result => {
      const before = known.get(change.id);
      const subject = subjectOf(change);
      const refusal = refuse(change, row);
      const verdict = judge(change, versions.get(subject) ?? null, before !== undefined);
      if (verdict === 'already') return { id: change.id, outcome: 'already', reason: null, seq: before! };
      if (refusal) return { id: change.id, outcome: 'refused', reason: refusal, seq: null };
      if (verdict === 'conflict') return { id: change.id, outcome: 'conflict', reason: null, seq: null };
      seq++;
      known.set(change.id, seq);
      versions.set(subject, change.id);
      accepted.push({ change, seq });
      return { id: change.id, outcome: 'applied', reason: null, seq };
    });
    const current = await currentOf(tx, handInId, changes, results);
    await tx.send(...store(house, person, handInId, accepted), ...forgetEmpty(handInId, seq), COMMIT);
    return { seq, results, current };
  });
}

interface LockedRow {
  readonly seq: number;
  readonly most: number | null;
  readonly back: boolean;
  /** Pages of each document of the hand-in. */
  readonly pages: ReadonlyMap<DocumentId, number>;
  /** Which of the changes were committed before, and as which number. */
  readonly known: Map<ChangeId, number>;
  /** What stands at every subject of the changes now. */
  readonly versions: Map<Subject, ChangeId | null>;
}

/**
 * All that is needed to judge a batch, in one query: the marking's row under its lock, and beside it whether this teacher
 * may, what was handed in, and what stands. What is read beside it is read locking too, so that it is the newest.
 */
const LOCK = `SELECT m.grade_version, m.closing_version, m.done_version,
    (SELECT MAX(x.seq) FROM marking_change x WHERE x.hand_in_id = m.hand_in_id LOCK IN SHARE MODE) AS seq,
    (SELECT JSON_ARRAY(a.most, EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id))
       FROM hand_in h JOIN copy c ON c.id = h.copy_id JOIN assignment a ON a.id = c.assignment_id
       JOIN membership t ON t.class_id = a.class_id AND t.role = 'teacher' AND t.person_id = ? WHERE h.id = m.hand_in_id) AS access,
    (SELECT JSON_OBJECTAGG(d.id, d.pages) FROM hand_in_document hd JOIN document d ON d.id = hd.document_id WHERE hd.hand_in_id = m.hand_in_id) AS pages,
    (SELECT JSON_OBJECTAGG(x.change_id, x.seq) FROM marking_change x WHERE x.hand_in_id = m.hand_in_id AND x.change_id IN (?) LOCK IN SHARE MODE) AS known,
    (SELECT JSON_OBJECTAGG(k.id, k.version) FROM mark k WHERE k.hand_in_id = m.hand_in_id AND k.id IN (?) LOCK IN SHARE MODE) AS versions
  FROM marking m WHERE m.hand_in_id = ? FOR UPDATE`;

/** The driver parses what the server marks as JSON, which not all of its versions do. */
function fromJson(value: unknown): object | null {
  return typeof value === 'string' ? JSON.parse(value) : (value as object | null);
}

async function lockMarking(
  house: House,
  tx: Batch,
  person: Person,
  handInId: string,
  changes: readonly Change[],
): Promise<LockedRow> {
  const marks = marksIn(changes);
  const lock = {
    sql: LOCK,
    values: [person.id, changes.map((c) => c.id), marks.length ? marks : [''], handInId],
  };
  let row = (await tx.send(BEGIN, lock))[1]![0];
  if (!row) {
    // Nobody has begun. The row is made only by who may, and found by whoever comes second.
    await teachesHandIn(tx, person, handInId);
    await tx.query(
      `INSERT IGNORE INTO marking (hand_in_id, marker_id, begun_at, closing, done) VALUES (?, ?, ?, '', 0)`,
      [handInId, person.id, new Date(house.now())],
    );
    row = (await tx.send(lock))[0]![0];
  }
  if (!row.access) throw new Fault('not-found');
  const [most, back] = fromJson(row.access) as [number | null, number];
  return {
    seq: row.seq ?? 0,
    most,
    back: Boolean(back),
    pages: new Map(Object.entries(fromJson(row.pages) ?? {}) as [DocumentId, number][]),
    known: new Map(Object.entries(fromJson(row.known) ?? {}) as [ChangeId, number][]),
    versions: new Map<Subject, ChangeId | null>([
      ...(Object.entries(fromJson(row.versions) ?? {}) as [MarkId, ChangeId][]),
      ['slip:grade', row.grade_version],
      ['slip:closing', row.closing_version],
      ['slip:done', row.done_version],
    ]),
  };
}

function marksIn(changes: readonly Change[]): MarkId[] {
  return [...new Set(changes.flatMap((c) => (c.type === 'write' ? [] : [c.mark.id])))];
}

/** What no marking may hold, whatever it was made on. */
function refuse(change: Change, row: LockedRow): Refusal | null {
  if (row.back) return 'handed-back';
  if (change.type === 'put' && change.mark.page >= (row.pages.get(change.mark.document) ?? 0))
    return 'no-such-page';
  if (change.type === 'write' && change.field === 'grade' && change.value !== null) {
    if (row.most === null) return 'ungraded';
    if (change.value > row.most) return 'above-most';
  }
  return null;
}

/** The statements that keep what was accepted: the log, the marks as they stand now, and the slip. */
function store(
  house: House,
  person: Person,
  handInId: string,
  accepted: readonly { change: Change; seq: number }[],
): Statement[] {
  if (accepted.length === 0) return [];
  const now = new Date(house.now());
  const statements: Statement[] = [
    {
      sql: 'INSERT INTO marking_change (hand_in_id, seq, change_id, by_id, at, value) VALUES ?',
      values: [
        accepted.map(({ change, seq }) => [handInId, seq, change.id, person.id, now, JSON.stringify(change)]),
      ],
    },
  ];
  const marks = new Map<MarkId, [string, MarkId, ChangeId, string | null]>();
  const set: Record<string, unknown> = {};
  for (const { change } of accepted) {
    if (change.type === 'write') {
      set[change.field] = change.value;
      set[`${change.field}_version`] = change.id;
      if (change.field === 'done') set.done_at = change.value ? now : null;
    } else {
      const value = change.type === 'put' ? JSON.stringify(change.mark) : null;
      marks.set(change.mark.id, [handInId, change.mark.id, change.id, value]);
    }
  }
  if (marks.size)
    statements.push({
      sql: 'INSERT INTO mark (hand_in_id, id, version, value) VALUES ? ON DUPLICATE KEY UPDATE version = VALUES(version), value = VALUES(value)',
      values: [[...marks.values()]],
    });
  const columns = Object.keys(set);
  if (columns.length)
    statements.push({
      sql: `UPDATE marking SET ${columns.map((c) => `${c} = ?`).join(', ')} WHERE hand_in_id = ?`,
      values: [...Object.values(set), handInId],
    });
  return statements;
}

/** Nothing was taken and nothing was there before: nobody has begun. */
function forgetEmpty(handInId: string, seq: number): Statement[] {
  return seq === 0 ? [{ sql: 'DELETE FROM marking WHERE hand_in_id = ?', values: [handInId] }] : [];
}

async function currentOf(
  tx: Batch,
  handInId: string,
  changes: readonly Change[],
  results: readonly Result[],
): Promise<BatchAnswer['current']> {
  const clashing = changes.filter(
    (_, i) => results[i]!.outcome === 'conflict' || results[i]!.outcome === 'refused',
  );
  if (clashing.length === 0) return null;
  const [row] = await tx.query(`SELECT ${SLIP_COLUMNS} FROM marking m WHERE m.hand_in_id = ?`, [handInId]);
  return { marks: await readMarks(tx, handInId, marksIn(clashing)), slip: slipOf(row) };
}

/** The changes after a sequence number, for a desk that missed some. */
export async function changesSince(
  house: House,
  handInId: string,
  after: number,
): Promise<{ seq: number; changes: Change[] }> {
  const rows: { seq: number; value: string }[] = await house.db.query(
    'SELECT seq, value FROM marking_change WHERE hand_in_id = ? AND seq > ? ORDER BY seq LIMIT 1000',
    [handInId, after],
  );
  return { seq: rows.at(-1)?.seq ?? after, changes: rows.map((r) => JSON.parse(r.value)) };
}

export async function teachesHandIn(db: Asked, person: Person, handInId: string): Promise<void> {
  const rows = await db.query(
    // Locked against its being taken back: who marks first and who takes back first cannot both be right.
    `SELECT 1 FROM hand_in h JOIN copy c ON c.id = h.copy_id JOIN assignment a ON a.id = c.assignment_id
     JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE h.id = ? AND m.person_id = ? LOCK IN SHARE MODE`,
    [handInId, person.id],
  );
  if (rows.length) return;
  const [gone] = await db.query(
    `SELECT 1 FROM taken_back t JOIN copy c ON c.id = t.copy_id JOIN assignment a ON a.id = c.assignment_id
     JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE t.id = ? AND m.person_id = ? LOCK IN SHARE MODE`,
    [handInId, person.id],
  );
  throw new Fault(gone ? 'taken-back' : 'not-found');
}
