import {
  type AssignmentId,
  type Person,
  type Pile,
  type PileRow,
  type Progress,
  placeOf,
} from '@jotmark/core';
import { HEAD_COLUMNS, headOf, stageOf } from '../assignment/head.ts';
import { UNREAD_COLUMN } from '../conversation/messages.ts';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { BLIND_COLUMN, shownStudent } from '../people/blind.ts';

/** What `rowOf` reads of every copy `c`: its newest hand-in `h` with all its documents, that one's marking `m`, and hand-backs. */
export const COPY_COLUMNS = `c.id AS copy_id, c.excused, p.given, p.family, COALESCE(c.due_at, a.due_at) AS due, h.number, h.handed_in_at, h.late_ms,
  ${BLIND_COLUMN}, h.id AS hand_in_id, m.hand_in_id AS marking_id, m.done, m.done_version, m.grade, m.grade_version, m.left_at, f.cover, f.documents, f.pages, f.unread_pages, f.failed, f.read_done, f.read_total,
  (SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id) AS handed_back`;
/** Takes the assignments' ids as its first parameter; students who left are not in the pile. */
export const COPY_FROM = `copy c JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id
  JOIN membership ms ON ms.class_id = a.class_id AND ms.person_id = c.student_id AND ms.left_at IS NULL
  LEFT JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)
  LEFT JOIN marking m ON m.hand_in_id = h.id
  LEFT JOIN (SELECT hd.hand_in_id, COUNT(*) AS documents, SUM(d.pages) AS pages, SUM(j.state IN ('queued', 'running')) AS unread_pages,
      SUM(j.state = 'failed') AS failed, SUM(COALESCE(j.done, 0)) AS read_done, SUM(COALESCE(j.total, 0)) AS read_total, MIN(IF(d.picture_sha256 IS NULL, NULL, d.id)) AS cover
    FROM hand_in_document hd JOIN document d ON d.id = hd.document_id JOIN hand_in hi ON hi.id = hd.hand_in_id JOIN copy ci ON ci.id = hi.copy_id
      LEFT JOIN job j ON j.kind = 'read-document' AND j.subject = d.id AND d.shows = 'pages'
    WHERE ci.assignment_id IN (?) GROUP BY hd.hand_in_id) f ON f.hand_in_id = h.id`;

/** By the names that are shown: the order of the real ones would tell them. */
function byShownName(rows: PileRow[]): PileRow[] {
  return rows.sort((a, b) => fullKey(a).localeCompare(fullKey(b)));
}

const fullKey = ({ student }: PileRow) => `${student.family} ${student.given}`;

function readingOf(r: RawRow): Progress | null {
  if (r.documents === null || r.documents === undefined) return null;
  const state = Number(r.unread_pages) ? 'running' : Number(r.failed) ? 'failed' : 'done';
  return { state, done: Number(r.read_done), total: Number(r.read_total), error: null };
}

export function rowOf(r: RawRow, now: number): PileRow {
  const place = placeOf({
    handIns: r.number ?? 0,
    handedBack: r.handed_back ?? 0,
    marking: r.marking_id ? { done: Boolean(r.done) } : null,
  });
  return {
    copyId: r.copy_id,
    excused: Boolean(r.excused),
    unread: Number(r.unread ?? 0),
    documents: Number(r.documents ?? 0),
    handInId: r.hand_in_id ?? null,
    gradeVersion: r.grade_version ?? null,
    doneVersion: r.done_version ?? null,
    cover: r.cover ?? null,
    student: shownStudent(r),
    place,
    handedInAt: r.handed_in_at?.getTime() ?? null,
    late: Number(r.late_ms ?? 0),
    overdue: place === 'with-student' && !r.excused && r.due !== null && r.due.getTime() < now,
    handInNumber: r.number ?? 0,
    grade: r.grade ?? null,
    pages: r.pages === null || r.pages === undefined ? null : Number(r.pages),
    reading: readingOf(r),
  };
}

/** All copies of one assignment, by the students' names. */
export async function readPile(house: House, person: Person, assignmentId: AssignmentId): Promise<Pile> {
  const [head] = await house.db.query(
    `SELECT ${HEAD_COLUMNS}, a.opens_at, a.blind FROM assignment a JOIN school_class k ON k.id = a.class_id WHERE a.id = ?`,
    [assignmentId],
  );
  if (!head) throw new Fault('not-found');
  const rows = await house.db.query(
    `SELECT ${COPY_COLUMNS}, ${UNREAD_COLUMN} AS unread FROM ${COPY_FROM} WHERE c.assignment_id = ? ORDER BY p.family, p.given, c.id`,
    [person.id, person.id, [assignmentId], assignmentId],
  );
  const now = house.now();
  return {
    assignment: headOf(head),
    stage: stageOf(head.opens_at, now),
    opensAt: head.opens_at?.getTime() ?? null,
    blind: Boolean(head.blind),
    rows: byShownName(rows.map((r: RawRow) => rowOf(r, now))),
  };
}
