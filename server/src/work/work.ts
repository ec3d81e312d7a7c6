import {
  type CopyId,
  type CopySheet,
  type Person,
  placeForStudent,
  Questions,
  RichText,
  type Work,
  type WorkRow,
} from '@jotmark/core';
import { HEAD_COLUMNS, headOf } from '../assignment/head.ts';
import { materialsOf } from '../assignment/materials.ts';
import { UNREAD_COLUMN } from '../conversation/messages.ts';
import { readCopyState } from '../copy/state.ts';
import type { RawRow } from '../database/raw.ts';
import { documentStates, documentsOf, STATE_COLUMNS, STATE_FROM, stateOf } from '../document/document.ts';
import { newestHandBack } from '../hand-back/read.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';

/**
 * The student's side. It knows hand-ins and hand-backs and nothing of what lies between: no table of the
 * marking is named here.
 */
const COLUMNS = `${HEAD_COLUMNS}, c.id AS copy_id, c.due_at AS own_due, c.excused, a.instructions, a.hands_in, a.news, a.news_at, c.seen_at,
  p.given, p.family, h.id AS hand_in_id, h.number, h.handed_in_at, h.claimed_at, h.late_ms, ${UNREAD_COLUMN} AS unread,
  (SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id) AS handed_back,
  (SELECT MAX(b.handed_back_at) FROM hand_back b WHERE b.copy_id = c.id) AS handed_back_at`;
const FROM = `copy c JOIN assignment a ON a.id = c.assignment_id JOIN school_class k ON k.id = a.class_id JOIN person p ON p.id = c.student_id
  LEFT JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)`;

function rowOf(r: RawRow, now: number): WorkRow {
  const assignment = headOf(r as never, r.own_due);
  const place = placeForStudent({ handIns: r.number ?? 0, handedBack: r.handed_back ?? 0 });
  const excused = Boolean(r.excused);
  return {
    copyId: r.copy_id,
    assignment,
    place,
    excused,
    late: Number(r.late_ms ?? 0),
    overdue: place === 'with-student' && !excused && assignment.dueAt !== null && assignment.dueAt < now,
    handedInAt: r.handed_in_at?.getTime() ?? null,
    handedBackAt: r.handed_back_at?.getTime() ?? null,
    unread: Number(r.unread),
    changed: r.news_at !== null && (r.seen_at === null || r.news_at > r.seen_at),
  };
}

/** A student's open work. What was put away shows only where something came back. */
export async function workList(house: House, person: Person): Promise<WorkRow[]> {
  const now = house.now();
  const rows = await house.db.query(
    `SELECT ${COLUMNS} FROM ${FROM} JOIN membership m ON m.class_id = a.class_id AND m.person_id = c.student_id AND m.left_at IS NULL
     WHERE c.student_id = ? AND a.opens_at <= ?
       AND (a.put_away_at IS NULL OR EXISTS (SELECT 1 FROM hand_back b WHERE b.copy_id = c.id))
     ORDER BY COALESCE(c.due_at, a.due_at, '9999-01-01'), a.title LIMIT 500`,
    [person.id, person.id, person.id, new Date(now)],
  );
  return rows.map((r: RawRow) => rowOf(r, now));
}

export async function readWork(house: House, person: Person, copyId: CopyId): Promise<Work> {
  const [row] = await house.db.query(`SELECT ${COLUMNS} FROM ${FROM} WHERE c.id = ?`, [
    person.id,
    person.id,
    copyId,
  ]);
  if (!row) throw new Fault('not-found');
  return {
    row: rowOf(row, house.now()),
    instructions: RichText.parse(JSON.parse(row.instructions)),
    news: row.news_at ? { words: row.news, at: row.news_at.getTime() } : null,
    materials: (await materialsOf(house, row.assignment_id)).filter((m) => m.kind !== 'worksheet'),
    student: { given: row.given, family: row.family },
    teachers: await teachersOf(house, copyId),
    handsIn: Boolean(row.hands_in),
    sheets: await sheetsOf(house, copyId),
    state: await readCopyState(house.db, copyId),
    files: await filesOf(house, copyId),
    handIn: row.hand_in_id
      ? {
          id: row.hand_in_id,
          number: row.number,
          handedInAt: row.handed_in_at.getTime(),
          claimedAt: row.claimed_at?.getTime() ?? null,
          documents: await documentsOf(house, row.hand_in_id),
        }
      : null,
    handBack: await newestHandBack(house, copyId),
  };
}

/** The student has looked at it: what was told of a change counts as seen. */
export async function markSeen(house: House, copyId: CopyId): Promise<void> {
  await house.db.query('UPDATE copy SET seen_at = ? WHERE id = ?', [new Date(house.now()), copyId]);
}

async function teachersOf(house: House, copyId: string): Promise<string[]> {
  const rows = await house.db.query(
    `SELECT p.given, p.family FROM copy c JOIN assignment a ON a.id = c.assignment_id
       JOIN membership m ON m.class_id = a.class_id AND m.role = 'teacher' JOIN person p ON p.id = m.person_id
     WHERE c.id = ? ORDER BY p.family`,
    [copyId],
  );
  return rows.map((r: RawRow) => `${r.given} ${r.family}`);
}

export async function sheetsOf(house: House, copyId: string): Promise<CopySheet[]> {
  const rows: RawRow[] = await house.db.query(
    `SELECT w.id AS version_id, k.name AS worksheet_name, w.questions, ${STATE_COLUMNS} FROM ${STATE_FROM} JOIN worksheet_version w ON w.document_id = d.id
       JOIN worksheet k ON k.id = w.worksheet_id JOIN copy_sheet s ON s.version_id = w.id WHERE s.copy_id = ? ORDER BY s.position`,
    [copyId],
  );
  return rows.map((r) => ({
    versionId: r.version_id,
    name: r.worksheet_name,
    document: stateOf(r),
    questions: Questions.parse(JSON.parse(r.questions)),
  }));
}

export async function filesOf(house: House, copyId: string): Promise<Work['files']> {
  const rows: { document_id: string }[] = await house.db.query(
    'SELECT document_id FROM copy_file WHERE copy_id = ? ORDER BY position',
    [copyId],
  );
  return documentStates(
    house,
    rows.map((r) => r.document_id),
  );
}
