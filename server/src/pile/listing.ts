import {
  type AssignmentId,
  type ChangeId,
  type CopyId,
  type DocumentId,
  gradeOf,
  type HandBackId,
  type HandInId,
  type PersonId,
  type PileRow,
  type Progress,
  placeOf,
  type QuestionId,
  seenName,
} from '@jotmark/core';
import { LATE } from '../copy/late.ts';
import { as, type Db, type RowOf, readRows } from '../database/pick.ts';
import { BLIND, gathered } from '../people/students.ts';

/** What is read of every copy `c`: its newest hand-in `h` with all its documents, that one's marking `m`, hand-backs, and one row for each of its students. */
const COLUMNS = `c.id AS copyId, c.assignment_id AS assignmentId, p.id, p.given, p.family, ${BLIND} AS blind, c.excused, COALESCE(c.due_at, a.due_at) AS due,
  c.here_at AS hereAt, c.worked_at AS workedAt, c.at_question AS atQuestion, h.number, h.handed_in_at AS handedInAt, ${LATE} AS late, h.id AS handInId,
  m.id AS markingId, m.done, m.done_version AS doneVersion, m.grade AS typed, m.computed, m.grade_version AS gradeVersion, m.left_at AS leftAt,
  f.cover, f.documents, f.pages, f.unread, f.failed, f.readDone, f.readTotal,
  (SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id AND b.goes_on = 0) AS handedBack,
  EXISTS (SELECT 1 FROM hand_back b WHERE b.copy_id = c.id AND b.hand_in_id IS NULL AND b.round > 0 AND b.goes_on = 0) AS backAlone,
  IF(w.id IS NULL, (SELECT MAX(rc.recalled_at) FROM recalled_hand_back rc WHERE rc.copy_id = c.id AND rc.hand_in_id <=> h.id AND rc.round > 0), NULL) AS recalledAt,
  w.id AS backId, w.round AS backNumber, w.handed_back_at AS backAt, w.unfinished, w.notes`;
/** Students who left are not in the pile, or are all that is asked for. */
const FROM = (
  left: boolean,
) => `copy c JOIN assignment a ON a.id = c.assignment_id JOIN copy_member cm ON cm.copy_id = c.id JOIN person p ON p.id = cm.person_id
  JOIN membership ms ON ms.class_id = a.class_id AND ms.person_id = cm.person_id AND ms.left_at IS ${left ? 'NOT NULL' : 'NULL'}
  LEFT JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)
  LEFT JOIN hand_back w ON w.copy_id = c.id AND w.hand_in_id <=> h.id AND w.round > 0 AND w.round = (SELECT MAX(x.round) FROM hand_back x WHERE x.copy_id = c.id AND x.hand_in_id <=> h.id)
  LEFT JOIN marking m ON m.copy_id = c.id AND m.number = COALESCE(h.number, 0)
  LEFT JOIN (SELECT hd.hand_in_id, COUNT(*) AS documents, SUM(d.pages) AS pages, SUM(j.state IN ('queued', 'running')) AS unread,
      SUM(j.state = 'failed') AS failed, SUM(COALESCE(j.done, 0)) AS readDone, SUM(COALESCE(j.total, 0)) AS readTotal, MIN(IF(d.picture_sha256 IS NULL, NULL, d.id)) AS cover
    FROM hand_in_document hd JOIN document d ON d.id = hd.document_id JOIN hand_in hi ON hi.id = hd.hand_in_id JOIN copy ci ON ci.id = hi.copy_id
      LEFT JOIN job j ON j.kind = 'read-document' AND j.subject = d.id AND d.shows = 'pages'
    WHERE ci.assignment_id IN (?) GROUP BY hd.hand_in_id) f ON f.hand_in_id = h.id`;

const SHAPE = {
  copyId: as.id<CopyId>(),
  assignmentId: as.id<AssignmentId>(),
  id: as.id<PersonId>(),
  given: as.text,
  family: as.text,
  blind: as.flag,
  excused: as.flag,
  due: as.maybe(as.moment),
  hereAt: as.maybe(as.moment),
  workedAt: as.maybe(as.moment),
  atQuestion: as.maybe(as.id<QuestionId>()),
  number: as.maybe(as.int),
  handedInAt: as.maybe(as.moment),
  late: as.maybe(as.int),
  handInId: as.maybe(as.id<HandInId>()),
  markingId: as.maybe(as.text),
  done: as.maybe(as.flag),
  doneVersion: as.maybe(as.id<ChangeId>()),
  typed: as.maybe(as.int),
  computed: as.maybe(as.int),
  gradeVersion: as.maybe(as.id<ChangeId>()),
  leftAt: as.maybe(as.int),
  cover: as.maybe(as.id<DocumentId>()),
  documents: as.maybe(as.int),
  pages: as.maybe(as.int),
  unread: as.count,
  failed: as.count,
  readDone: as.count,
  readTotal: as.count,
  handedBack: as.maybe(as.int),
  backAlone: as.flag,
  backId: as.maybe(as.id<HandBackId>()),
  backNumber: as.maybe(as.int),
  backAt: as.maybe(as.moment),
  recalledAt: as.maybe(as.moment),
  unfinished: as.maybe(as.flag),
  notes: as.maybe(as.int),
} as const;
type Row = RowOf<typeof SHAPE>;

const NOTHING_YET: After = { seenAt: null, opened: 0, done: 0, recordings: 0, heard: 0 };

/** What students did with what they got back. */
export type After = Pick<NonNullable<PileRow['back']>, 'seenAt' | 'opened' | 'done' | 'recordings' | 'heard'>;

/** A copy as the views over many of them show it, with what only some of them show beside. */
export interface Listed extends PileRow {
  readonly assignmentId: AssignmentId;
  readonly leftAt: number;
  readonly hereAt: number | null;
  readonly workedAt: number | null;
  readonly atQuestion: QuestionId | null;
}

/**
 * All copies of these assignments, or only some of them, by their students' names. A copy of a group is one.
 *
 * Raw: it is the page a teacher opens most, over all tables at once (bench: opening a pile of 400).
 */
export async function listCopies(
  db: Db,
  assignmentIds: readonly AssignmentId[],
  about: {
    readonly now: number;
    readonly only?: readonly CopyId[] | null;
    /** Those whose students have left instead. */
    readonly left?: boolean;
    readonly unread?: ReadonlyMap<CopyId, number>;
    /** What became of what went back. */
    readonly after?: ReadonlyMap<HandBackId, After>;
  },
): Promise<Listed[]> {
  if (assignmentIds.length === 0 || about.only?.length === 0) return [];
  const some = about.only ? ' AND c.id IN (?)' : '';
  const found = await db.query(
    `SELECT ${COLUMNS} FROM ${FROM(about.left ?? false)} WHERE c.assignment_id IN (?)${some} ORDER BY p.family, p.given, c.id`,
    [assignmentIds, assignmentIds, ...(about.only ? [about.only] : [])],
  );
  const rows = readRows(found, SHAPE);
  const students = gathered(rows);
  const first = new Map<CopyId, Row>();
  for (const row of rows) if (!first.has(row.copyId)) first.set(row.copyId, row);
  return [...first.values()].map((r) => {
    const place = placeOf({
      handIns: r.number ?? 0,
      handedBack: r.handedBack ?? 0,
      marking: r.markingId ? { done: r.done ?? false } : null,
      backAlone: r.backAlone,
    });
    return {
      copyId: r.copyId,
      assignmentId: r.assignmentId,
      excused: r.excused,
      unread: about.unread?.get(r.copyId) ?? 0,
      documents: r.documents ?? 0,
      handInId: r.handInId,
      gradeVersion: r.gradeVersion,
      doneVersion: r.doneVersion,
      cover: r.cover,
      student: seenName(students.get(r.copyId)!),
      place,
      handedInAt: r.handedInAt,
      late: r.late ?? 0,
      overdue: place === 'with-student' && !r.excused && r.due !== null && r.due < about.now,
      handInNumber: r.number ?? 0,
      grade: gradeOf(r.typed, r.computed),
      typed: r.typed,
      computed: r.computed,
      pages: r.pages,
      reading: readingOf(r),
      back: r.backId
        ? {
            number: r.backNumber!,
            at: r.backAt!,
            unfinished: r.unfinished!,
            notes: r.notes!,
            ...(about.after?.get(r.backId) ?? NOTHING_YET),
          }
        : null,
      opened: r.hereAt !== null || r.number !== null,
      recalledAt: r.recalledAt,
      leftAt: r.leftAt ?? 0,
      hereAt: r.hereAt,
      workedAt: r.workedAt,
      atQuestion: r.atQuestion,
    };
  });
}

function readingOf(r: Row): Progress | null {
  if (r.documents === null) return null;
  const state = r.unread ? 'running' : r.failed ? 'failed' : 'done';
  return { state, done: r.readDone, total: r.readTotal, error: null, ahead: null };
}

/** What of it goes to the pile. */
export function pileRow({ assignmentId: _, leftAt, hereAt, workedAt, atQuestion, ...row }: Listed): PileRow {
  return row;
}
