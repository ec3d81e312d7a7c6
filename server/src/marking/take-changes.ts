import {
  type BatchAnswer,
  bytesIn,
  type ChangeId,
  judgeBatch,
  type Mark,
  type MarkId,
  type MarkingChange,
  type MarkingId,
  markOf,
  markText,
  momentOf,
  type Person,
  type Recording,
  type Refusal,
  readMark,
  recordingOf,
  type ScoreOf,
} from '@jotmark/core';
import { type Batch, inBatch, type Statement } from '../database/batch-pool.ts';
import { as } from '../database/pick.ts';
import type { House } from '../house.ts';
import { missingPictures } from '../people/pictures.ts';
import { missingVoices } from '../voice/keep.ts';
import { type LockedMarking, lockMarking, type Marked, marksIn, touchesGrade } from './lock.ts';
import { recomputed } from './scored.ts';
import { SLIP_COLUMNS, SLIP_ROW, slipOf } from './state.ts';

/**
 * Takes a batch of changes into a marking, in order, in one transaction under the marking's row lock. The answer is sent after the commit.
 *
 * Raw: a pen waits for it, so it is two trips to the database (bench: acknowledging a change batch).
 */
export async function takeChanges(
  house: House,
  person: Person,
  of: Marked,
  changes: readonly MarkingChange[],
): Promise<BatchAnswer> {
  const db = house.db.manager;
  const voices = voicesNamed(changes);
  const missing = new Set([
    ...(await missingPictures(db, bytesNamed(changes))),
    ...(await missingVoices(db, voices)),
  ]);
  return inBatch(house.batches, async (tx) => {
    const marking = await lockMarking(house, tx, person, of, changes);
    const { seq, results, accepted } = judgeBatch(changes, marking.known, (change) =>
      refuse(change, marking, missing, person),
    );
    const clashing = changes.filter(
      (_, i) => results[i]!.outcome === 'conflict' || results[i]!.outcome === 'refused',
    );
    const current = clashing.length ? await currentOf(tx, marking.id, clashing) : null;
    const kept = store(house, person, marking.id, accepted);
    const wrote = {
      table: 'marking_change',
      of: 'marking_id',
      id: marking.id,
      changes: accepted.map((a) => a.change.id),
    } as const;
    if (accepted.some(({ change }) => marking.begun || touchesGrade(change))) {
      await tx.send(...kept);
      await tx.commit(await recomputed(tx, marking.id), wrote);
    } else await tx.commit([...kept, ...forgetEmpty(marking.id, seq)], wrote);
    return { seq, results, current };
  });
}

const bytesNamed = (changes: readonly MarkingChange[]): string[] => [
  ...new Set(changes.flatMap((c) => (c.type === 'put' ? bytesIn(c.mark) : []))),
];

/** What is said in a change: with a mark, or about the whole copy. */
const saidIn = (change: MarkingChange): Recording | null => {
  if (change.type === 'put') return recordingOf(change.mark);
  return change.type === 'write' && change.field === 'voice' ? change.value : null;
};

const voicesNamed = (changes: readonly MarkingChange[]): string[] => [
  ...new Set(changes.flatMap((c) => saidIn(c)?.file ?? [])),
];

/** Marks stand on pages, those with a moment on what has none. */
function isThere(mark: Mark, pages: LockedMarking['pages']): boolean {
  const count = pages.get(mark.document);
  if (count === undefined) return false;
  return momentOf(mark) === null ? mark.page < count : count === 0;
}

/** What no marking may hold, whatever it was made on. */
function refuse(
  change: MarkingChange,
  marking: LockedMarking,
  missing: ReadonlySet<string>,
  person: Person,
): Refusal | null {
  const ofMidway =
    (change.type === 'score' && change.of.startsWith('midway:')) ||
    (change.type === 'write' && change.field === 'midway');
  if (ofMidway ? marking.midway : marking.back) return 'handed-back';
  if (change.type === 'put') {
    // One that cannot be read was there before: it may come back.
    if (change.mark.kind === 'unread') return null;
    if (!isThere(change.mark, marking.pages)) return 'no-such-page';
    if (bytesIn(change.mark).some((b) => missing.has(b))) return 'no-such-picture';
  }
  const said = saidIn(change);
  if (said && missing.has(said.file)) return 'no-such-voice';
  if (change.type === 'score' && change.value?.of === 'question' && marking.most === null) return 'ungraded';
  if (change.type === 'write' && change.field === 'own' && change.value !== null) {
    const { most } = marking;
    if (most === null) return 'ungraded';
    if (Object.values(change.value).some((grade) => grade > most)) return 'above-most';
  }
  if (change.type === 'write' && change.field === 'grade' && change.value !== null) {
    if (marking.most === null) return 'ungraded';
    if (change.value > marking.most) return 'above-most';
  }
  if (change.type === 'write' && change.field === 'second' && change.value !== null) {
    // A second opinion is one's own.
    if (change.value.by !== person.id) return 'not-yours';
    if (marking.most === null) return 'ungraded';
    if (change.value.grade > marking.most) return 'above-most';
  }
  return null;
}

/** The statements that keep what was accepted: the log, the marks as they stand now, and the slip. */
function store(
  house: House,
  person: Person,
  markingId: MarkingId,
  accepted: readonly { readonly change: MarkingChange; readonly seq: number }[],
): Statement[] {
  if (accepted.length === 0) return [];
  const now = new Date(house.now());
  const statements: Statement[] = [
    {
      sql: 'INSERT INTO marking_change (marking_id, seq, change_id, by_id, at, value) VALUES ?',
      values: [
        accepted.map(({ change, seq }) => [
          markingId,
          seq,
          change.id,
          person.id,
          now,
          JSON.stringify(change),
        ]),
      ],
    },
  ];
  const marks = new Map<MarkId, [string, MarkId, ChangeId, string | null]>();
  const set: Record<string, unknown> = {};
  const scores = new Map<ScoreOf, [string, ScoreOf, ChangeId, string | null]>();
  for (const { change } of accepted) {
    if (change.type === 'score') {
      scores.set(change.of, [markingId, change.of, change.id, change.value && JSON.stringify(change.value)]);
      continue;
    }
    if (change.type === 'write') {
      const { value } = change;
      set[change.field] = value !== null && typeof value === 'object' ? JSON.stringify(value) : value;
      set[`${change.field}_version`] = change.id;
      if (change.field === 'done') set.done_at = change.value ? now : null;
    } else {
      const id = markOf(change);
      marks.set(id, [markingId, id, change.id, change.type === 'put' ? markText(change.mark) : null]);
    }
  }
  if (marks.size)
    statements.push({
      sql: 'INSERT INTO mark (marking_id, id, version, value) VALUES ? ON DUPLICATE KEY UPDATE version = VALUES(version), value = VALUES(value)',
      values: [[...marks.values()]],
    });
  if (scores.size)
    statements.push({
      sql: 'INSERT INTO score (marking_id, subject, version, value) VALUES ? ON DUPLICATE KEY UPDATE version = VALUES(version), value = VALUES(value)',
      values: [[...scores.values()]],
    });
  const said = voicesNamed(accepted.map((a) => a.change));
  if (said.length)
    statements.push({
      sql: 'INSERT IGNORE INTO voice_on_copy (sha256, copy_id) SELECT v.sha256, m.copy_id FROM voice v JOIN marking m ON m.id = ? WHERE v.sha256 IN (?)',
      values: [markingId, said],
    });
  const columns = Object.keys(set);
  if (columns.length)
    statements.push({
      sql: `UPDATE marking SET ${columns.map((c) => `${c} = ?`).join(', ')} WHERE id = ?`,
      values: [...Object.values(set), markingId],
    });
  return statements;
}

/** Nothing was taken and nothing was there before: nobody has begun. */
function forgetEmpty(markingId: MarkingId, seq: number): Statement[] {
  return seq === 0 ? [{ sql: 'DELETE FROM marking WHERE id = ?', values: [markingId] }] : [];
}

const STANDING = {
  id: as.id<MarkId>(),
  version: as.id<ChangeId>(),
  mark: as.maybe(as.json((raw) => ({ ok: true, value: readMark(raw) }))),
} as const;

/** What stands at the subjects of changes that were not taken. */
async function currentOf(
  tx: Batch,
  markingId: MarkingId,
  clashing: readonly MarkingChange[],
): Promise<BatchAnswer['current']> {
  const ids = marksIn(clashing);
  const slip = { sql: `SELECT ${SLIP_COLUMNS} FROM marking m WHERE m.id = ?`, values: [markingId] };
  const marks = {
    sql: 'SELECT id, version, value AS mark FROM mark WHERE marking_id = ? AND id IN (?)',
    values: [markingId, ids],
  };
  const [row] = await tx.rows(slip, SLIP_ROW);
  return { marks: ids.length ? await tx.rows(marks, STANDING) : [], slip: slipOf(row ?? null) };
}
