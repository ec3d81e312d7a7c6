import {
  type BatchAnswer,
  type Change,
  type ChangeId,
  type DocumentId,
  judge,
  type MarkId,
  type Person,
  type Subject,
  subjectOf,
} from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import { inTransaction } from '../database/transaction.ts';
import type { House } from '../house.ts';
import { Fault } from '../http/fault.ts';
import { readMarks, slipOf } from './state.ts';

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
  return inTransaction(house.db, async (tx) => {
    const row = await lockMarking(house, tx, person, handInId);
    const known = await knownChanges(tx, handInId, changes);
    const versions = await versionsOf(tx, handInId, changes, row);
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
    if (accepted.length) await store(house, tx, person, handInId, accepted, seq);
    return { seq, results, current: await currentOf(tx, handInId, changes, results) };
  });
}

interface LockedRow {
  seq: number;
  pages: Map<DocumentId, number>;
  most: number | null;
  back: string | null;
  grade_version: ChangeId | null;
  closing_version: ChangeId | null;
  done_version: ChangeId | null;
}

/** Access, limits and the lock in one query; the row is made on the first change. */
async function lockMarking(
  house: House,
  tx: EntityManager,
  person: Person,
  handInId: string,
): Promise<LockedRow> {
  const rows = await tx.query(
    `SELECT a.most, b.id AS back, d.id AS document_id, d.pages FROM hand_in h
       JOIN copy c ON c.id = h.copy_id JOIN assignment a ON a.id = c.assignment_id
       JOIN membership t ON t.class_id = a.class_id AND t.role = 'teacher' AND t.person_id = ?
       LEFT JOIN hand_back b ON b.hand_in_id = h.id
       LEFT JOIN hand_in_document hd ON hd.hand_in_id = h.id LEFT JOIN document d ON d.id = hd.document_id
     WHERE h.id = ?`,
    [person.id, handInId],
  );
  if (rows.length === 0) throw new Fault('not-found');
  const lock = () =>
    tx.query(
      'SELECT seq, grade_version, closing_version, done_version FROM marking WHERE hand_in_id = ? FOR UPDATE',
      [handInId],
    );
  let [marking] = await lock();
  if (!marking) {
    await tx.query(
      `INSERT IGNORE INTO marking (hand_in_id, seq, marker_id, begun_at, closing, done) VALUES (?, 0, ?, ?, '', 0)`,
      [handInId, person.id, new Date(house.now())],
    );
    [marking] = await lock();
  }
  return {
    ...marking,
    most: rows[0].most,
    back: rows[0].back,
    pages: new Map(rows.map((r: { document_id: DocumentId; pages: number }) => [r.document_id, r.pages])),
  };
}

async function knownChanges(
  tx: EntityManager,
  handInId: string,
  changes: readonly Change[],
): Promise<Map<ChangeId, number>> {
  const rows: { change_id: ChangeId; seq: number }[] = await tx.query(
    'SELECT change_id, seq FROM marking_change WHERE hand_in_id = ? AND change_id IN (?)',
    [handInId, changes.map((c) => c.id)],
  );
  return new Map(rows.map((r) => [r.change_id, r.seq]));
}

async function versionsOf(
  tx: EntityManager,
  handInId: string,
  changes: readonly Change[],
  row: LockedRow,
): Promise<Map<Subject, ChangeId | null>> {
  const versions = new Map<Subject, ChangeId | null>([
    ['slip:grade', row.grade_version],
    ['slip:closing', row.closing_version],
    ['slip:done', row.done_version],
  ]);
  const ids = marksIn(changes);
  if (ids.length) {
    const rows: { id: MarkId; version: ChangeId }[] = await tx.query(
      'SELECT id, version FROM mark WHERE hand_in_id = ? AND id IN (?)',
      [handInId, ids],
    );
    for (const r of rows) versions.set(r.id, r.version);
  }
  return versions;
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

async function store(
  house: House,
  tx: EntityManager,
  person: Person,
  handInId: string,
  accepted: readonly { change: Change; seq: number }[],
  seq: number,
): Promise<void> {
  const now = new Date(house.now());
  await tx.query('INSERT INTO marking_change (hand_in_id, seq, change_id, by_id, at, value) VALUES ?', [
    accepted.map(({ change, seq: n }) => [handInId, n, change.id, person.id, now, JSON.stringify(change)]),
  ]);
  const marks = new Map<MarkId, [string, MarkId, ChangeId, string | null]>();
  const set: Record<string, unknown> = { seq };
  for (const { change } of accepted) {
    if (change.type === 'write') {
      set[change.field] = change.value;
      set[`${change.field}_version`] = change.id;
      if (change.field === 'done') set.done_at = change.value ? now : null;
    } else
      marks.set(change.mark.id, [
        handInId,
        change.mark.id,
        change.id,
        change.type === 'put' ? JSON.stringify(change.mark) : null,
      ]);
  }
  if (marks.size)
    await tx.query(
      'INSERT INTO mark (hand_in_id, id, version, value) VALUES ? ON DUPLICATE KEY UPDATE version = VALUES(version), value = VALUES(value)',
      [[...marks.values()]],
    );
  const columns = Object.keys(set);
  await tx.query(`UPDATE marking SET ${columns.map((c) => `${c} = ?`).join(', ')} WHERE hand_in_id = ?`, [
    ...Object.values(set),
    handInId,
  ]);
}

async function currentOf(
  tx: EntityManager,
  handInId: string,
  changes: readonly Change[],
  results: readonly Result[],
): Promise<BatchAnswer['current']> {
  const clashing = changes.filter(
    (_, i) => results[i]!.outcome === 'conflict' || results[i]!.outcome === 'refused',
  );
  if (clashing.length === 0) return null;
  const [row] = await tx.query(
    'SELECT seq, grade, grade_version, closing, closing_version, done, done_version FROM marking WHERE hand_in_id = ?',
    [handInId],
  );
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

export async function teachesHandIn(house: House, person: Person, handInId: string): Promise<void> {
  const rows = await house.db.query(
    `SELECT 1 FROM hand_in h JOIN copy c ON c.id = h.copy_id JOIN assignment a ON a.id = c.assignment_id
     JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' WHERE h.id = ? AND m.person_id = ?`,
    [handInId, person.id],
  );
  if (rows.length === 0) throw new Fault('not-found');
}
