import {
  type ChangeId,
  type CopyId,
  type DocumentId,
  type HandInId,
  type MarkId,
  type MarkingChange,
  type MarkingId,
  markOf,
  type Person,
  pointsOn,
  promisedUntil,
  readSnapshot,
  type Score,
  type ScoreOf,
  SLIP_FIELDS,
  type Standing,
  type Subject,
  scoresToStartFrom,
  TakingBack,
} from '@jotmark/core';
import { type Batch, BEGIN, rowsOf, type Statement } from '../database/batch-pool.ts';
import { as } from '../database/pick.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';

/** What is marked: a hand-in, or a copy to which nothing came in, or that is still being worked on. */
export type Marked = { readonly handInId: HandInId } | { readonly copyId: CopyId };

export interface LockedMarking {
  readonly id: MarkingId;
  /** It was begun just now: what it starts from is not computed yet for this hand-in. */
  readonly begun: boolean;
  /** The most points; null: ungraded. */
  readonly most: number | null;
  /** It was handed back: nothing of it changes any more. */
  readonly back: boolean;
  /** Its midway round was released: that does not change any more. */
  readonly midway: boolean;
  /** Pages of each document that can be marked. */
  readonly pages: ReadonlyMap<DocumentId, number>;
  readonly known: Standing;
}

const versionColumns = SLIP_FIELDS.map((f) => `m.${f}_version`).join(', ');

/**
 * All that is needed to judge a batch, in one statement: the marking's row under its lock, and beside it whether this teacher
 * may, what can be marked, and what stands. What is read beside it is read locking too, so that it is the newest: a hand-back that came first is
 * seen, and one that comes later waits.
 */
const lockOf = (where: string) => `SELECT m.id, ${versionColumns},
    (SELECT MAX(x.seq) FROM marking_change x WHERE x.marking_id = m.id LOCK IN SHARE MODE) AS seq,
    (SELECT JSON_ARRAY(a.most) FROM copy c JOIN assignment a ON a.id = c.assignment_id
       JOIN membership t ON t.class_id = a.class_id AND t.role = 'teacher' AND t.person_id = ? WHERE c.id = m.copy_id) AS access,
    (SELECT COUNT(*) FROM hand_back b WHERE b.copy_id = m.copy_id AND b.hand_in_id <=> m.hand_in_id AND b.round > 0 AND b.goes_on = 0 LOCK IN SHARE MODE) AS back,
    (SELECT COUNT(*) FROM hand_back b WHERE b.copy_id = m.copy_id AND b.round = 0 LOCK IN SHARE MODE) AS midway,
    IF(m.hand_in_id IS NULL,
      (SELECT JSON_OBJECTAGG(d.id, d.pages) FROM copy_sheet s JOIN worksheet_version w ON w.id = s.version_id JOIN document d ON d.id = w.document_id WHERE s.copy_id = m.copy_id),
      (SELECT JSON_OBJECTAGG(d.id, d.pages) FROM hand_in_document hd JOIN document d ON d.id = hd.document_id WHERE hd.hand_in_id = m.hand_in_id)) AS pages,
    (SELECT JSON_OBJECTAGG(x.change_id, x.seq) FROM marking_change x WHERE x.marking_id = m.id AND x.change_id IN (?) LOCK IN SHARE MODE) AS known,
    (SELECT JSON_OBJECTAGG(k.id, k.version) FROM mark k WHERE k.marking_id = m.id AND k.id IN (?) LOCK IN SHARE MODE) AS versions,
    (SELECT JSON_OBJECTAGG(k.subject, k.version) FROM score k WHERE k.marking_id = m.id AND k.subject IN (?) LOCK IN SHARE MODE) AS scored
  FROM marking m WHERE ${where} FOR UPDATE`;
const LOCK_OF_HAND_IN = lockOf('m.hand_in_id = ?');
const LOCK_OF_COPY = lockOf('m.copy_id = ? AND m.number = 0');

/** The driver parses what the server marks as JSON, which not all of its versions do. */
const fromJson =
  <T>(empty: T) =>
  (value: unknown): T =>
    typeof value === 'string' ? JSON.parse(value) : ((value as T | null) ?? empty);

const LOCKED = {
  id: as.id<MarkingId>(),
  ...Object.fromEntries(SLIP_FIELDS.map((f) => [`${f}_version`, as.maybe(as.id<ChangeId>())])),
  seq: as.count,
  access: fromJson<readonly [number | null] | null>(null),
  back: as.int,
  midway: as.int,
  pages: fromJson<Record<string, number>>({}),
  known: fromJson<Record<string, number>>({}),
  versions: fromJson<Record<string, ChangeId>>({}),
  scored: fromJson<Record<ScoreOf, ChangeId | null>>({}),
} as const;

/** The marks that changes are about. */
export function marksIn(changes: readonly MarkingChange[]): MarkId[] {
  return [...new Set(changes.flatMap((c) => (c.type === 'put' || c.type === 'remove' ? [markOf(c)] : [])))];
}

/** Takes the lock on a marking and reads what stands; makes it where nobody has begun. Raw: see `takeChanges`. */
export async function lockMarking(
  house: House,
  tx: Batch,
  person: Person,
  of: Marked,
  changes: readonly MarkingChange[],
): Promise<LockedMarking> {
  const marks = marksIn(changes);
  const scores = [...new Set(changes.flatMap((c) => (c.type === 'score' ? [c.of] : [])))];
  const lock: Statement = {
    sql: 'handInId' in of ? LOCK_OF_HAND_IN : LOCK_OF_COPY,
    values: [
      person.id,
      changes.map((c) => c.id),
      marks.length ? marks : [''],
      scores.length ? scores : [''],
      'handInId' in of ? of.handInId : of.copyId,
    ],
  };
  const first = changes.some(touchesGrade) ? [lockScoring(of)] : [];
  let [row] = rowsOf((await tx.send(BEGIN, ...first, lock)).at(-1), LOCKED);
  const begun = !row;
  if (!row) {
    await begin(house, tx, person, of);
    [row] = await tx.rows(lock, LOCKED);
  }
  if (!row?.access) throw new Fault('not-found');
  const slip = row as unknown as Readonly<Record<string, ChangeId | null>>;
  return {
    id: row.id,
    begun,
    most: row.access[0],
    back: row.back > 0,
    midway: row.midway > 0,
    pages: new Map(Object.entries(row.pages) as [DocumentId, number][]),
    known: {
      seq: row.seq,
      taken: new Map(Object.entries(row.known) as [ChangeId, number][]),
      versions: new Map<Subject, ChangeId | null>([
        ...(Object.entries(row.versions) as [MarkId, ChangeId][]),
        ...(Object.entries(row.scored) as [ScoreOf, ChangeId | null][]).map(
          ([of, version]) => [`score:${of}`, version] as const,
        ),
        ...SLIP_FIELDS.map((f) => [`slip:${f}`, slip[`${f}_version`]!] as const),
      ]),
    },
  };
}

/** Whether a change can change the computed grade. What a removal took is not always known. */
export function touchesGrade(change: MarkingChange): boolean {
  switch (change.type) {
    case 'score':
      return true;
    case 'write':
      return change.field === 'lifted';
    case 'put':
      return pointsOn(change.mark) !== null || (change.was !== null && pointsOn(change.was) !== null);
    case 'remove':
      return change.was === null || pointsOn(change.was) !== null;
  }
}

/** How the work is scored must not change between a score and the grade that is computed from it: its assignment is held before the marking, as everywhere. */
const lockScoring = (of: Marked): Statement => {
  const id = 'handInId' in of ? of.handInId : of.copyId;
  return {
    sql: 'SELECT a.id FROM assignment a WHERE a.id = (SELECT c.assignment_id FROM copy c WHERE c.id = COALESCE((SELECT h.copy_id FROM hand_in h WHERE h.id = ?), ?)) LOCK IN SHARE MODE',
    values: [id, id],
  };
};

const BEGUN = { copy_id: as.id<CopyId>(), number: as.int } as const;
const TO_BEGIN = {
  ...BEGUN,
  take_back: as.oneOf(TakingBack.options),
  due_at: as.maybe(as.moment),
} as const;

/** Nobody has begun. The row is made only by who may, and found by whoever comes second. */
async function begin(house: House, tx: Batch, person: Person, of: Marked): Promise<void> {
  const { copy_id: copyId, number } = await mayBegin(house, tx, person, of);
  const id = newId(house);
  await tx.send(
    lockScoring(of),
    {
      sql: `INSERT IGNORE INTO marking (id, copy_id, hand_in_id, number, marker_id, begun_at, closing, done) VALUES (?, ?, ?, ?, ?, ?, '', 0)`,
      values: [id, copyId, 'handInId' in of ? of.handInId : null, number, person.id, new Date(house.now())],
    },
    ...(number > 0 ? carryOver(id, copyId, await startOf(tx, copyId, number)) : []),
  );
}

/** What a copy got before anything came in is what the marking of its first hand-ins starts from, see `carriedState`. Where somebody came first, nothing is done. */
const carryOver = (id: string, copyId: CopyId, start: [ScoreOf, Score][] | null): Statement[] => {
  if (start?.length)
    return [
      {
        sql: 'INSERT IGNORE INTO score (marking_id, subject, version, value) VALUES ?',
        values: [start.map(([of, score]) => [id, of, null, JSON.stringify(score)])],
      },
    ];
  return start ? [] : fromBefore(id, copyId);
};

/** Points and levels that the hand-in before went back with; null: there is none. */
async function startOf(tx: Batch, copyId: CopyId, number: number): Promise<[ScoreOf, Score][] | null> {
  if (number < 2) return null;
  const [row] = await tx.rows(
    {
      sql: `SELECT b.content FROM hand_back b JOIN hand_in h ON h.id = b.hand_in_id
        WHERE b.copy_id = ? AND h.number < ? AND b.round > 0 AND b.unfinished = 0 ORDER BY h.number DESC, b.round DESC LIMIT 1`,
      values: [copyId, number],
    },
    { content: as.json(readSnapshot) },
  );
  return row ? scoresToStartFrom(row.content) : null;
}

const fromBefore = (id: string, copyId: CopyId): Statement[] => [
  {
    sql: `UPDATE marking m JOIN marking b ON b.copy_id = ? AND b.number = 0 SET m.grade = b.grade, m.closing = b.closing, m.lifted = b.lifted, m.computed = b.computed WHERE m.id = ?`,
    values: [copyId, id],
  },
  {
    sql: `INSERT IGNORE INTO score (marking_id, subject, version, value) SELECT m.id, s.subject, NULL, s.value FROM score s
      JOIN marking b ON b.id = s.marking_id AND b.copy_id = ? AND b.number = 0 JOIN marking m ON m.id = ? WHERE s.value IS NOT NULL AND s.subject NOT LIKE 'midway:%'`,
    values: [copyId, id],
  },
];

async function mayBegin(house: House, tx: Batch, person: Person, of: Marked) {
  const taught = (from: string, columns: string): string =>
    `SELECT c.id AS copy_id, ${columns} FROM ${from} JOIN assignment a ON a.id = c.assignment_id
     JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' AND m.person_id = ?`;
  if ('copyId' in of) {
    const sql = `${taught('copy c', '0 AS number')} WHERE c.id = ? LOCK IN SHARE MODE`;
    const [copy] = await tx.rows({ sql, values: [person.id, of.copyId] }, BEGUN);
    if (!copy) throw new Fault('not-found');
    return copy;
  }
  // Locked against its being taken back: who marks first and who takes back first cannot both be right. The copy before the hand-in, as everywhere.
  await tx.send({
    sql: 'SELECT c.id FROM copy c WHERE c.id = (SELECT h.copy_id FROM hand_in h WHERE h.id = ?) LOCK IN SHARE MODE',
    values: [of.handInId],
  });
  const [handIn] = await tx.rows(
    {
      sql: `${taught('hand_in h JOIN copy c ON c.id = h.copy_id', 'h.number, a.take_back, COALESCE(c.due_at, a.due_at) AS due_at')} WHERE h.id = ? LOCK IN SHARE MODE`,
      values: [person.id, of.handInId],
    },
    TO_BEGIN,
  );
  if (handIn) {
    const until = promisedUntil(handIn.take_back, handIn.due_at, house.now());
    if (until !== null) throw new Fault('still-open', { until });
    return handIn;
  }
  const gone = await tx.rows(
    {
      sql: `${taught('taken_back h JOIN copy c ON c.id = h.copy_id', 'h.number')} WHERE h.id = ? LOCK IN SHARE MODE`,
      values: [person.id, of.handInId],
    },
    BEGUN,
  );
  throw new Fault(gone.length ? 'taken-back' : 'not-found');
}
