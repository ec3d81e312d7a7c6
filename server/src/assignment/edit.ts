import { randomBytes } from 'node:crypto';
import {
  type AssignmentId,
  type AssignmentLine,
  type AssignmentSheet,
  type AssignmentStudent,
  type AssignmentWords,
  Audience,
  type ClassId,
  type PersonId,
  RichText,
} from '@jotmark/core';
import type { RawRow } from '../database/raw.ts';
import { inTransaction } from '../database/transaction.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { handOut } from './hand-out.ts';
import { stageOf } from './head.ts';
import { materialsOf } from './materials.ts';

/** All work of a class: drafts and what is to come first, then the newest. */
export async function assignmentsOf(house: House, classId: ClassId): Promise<AssignmentLine[]> {
  const rows = await house.db.query(
    `SELECT a.id, a.title, a.category, a.unit, a.opens_at, a.due_at, a.most, a.put_away_at,
       (SELECT COUNT(*) FROM copy c WHERE c.assignment_id = a.id) AS copies,
       (SELECT COUNT(DISTINCT c.id) FROM copy c JOIN hand_in h ON h.copy_id = c.id WHERE c.assignment_id = a.id) AS handed_in
     FROM assignment a WHERE a.class_id = ? ORDER BY a.opens_at IS NOT NULL, a.opens_at DESC, a.created_at DESC LIMIT 500`,
    [classId],
  );
  const now = house.now();
  return rows.map(
    (r: RawRow): AssignmentLine => ({
      id: r.id,
      title: r.title,
      category: r.category,
      unit: r.unit,
      stage: stageOf(r.opens_at, now),
      opensAt: r.opens_at?.getTime() ?? null,
      dueAt: r.due_at?.getTime() ?? null,
      most: r.most,
      putAway: r.put_away_at !== null,
      copies: Number(r.copies),
      handedIn: Number(r.handed_in),
    }),
  );
}

/** All that a teacher edits of one assignment. */
export async function readAssignment(house: House, assignmentId: AssignmentId): Promise<AssignmentSheet> {
  const [a] = await house.db.query(
    'SELECT a.*, k.name AS class_name FROM assignment a JOIN school_class k ON k.id = a.class_id WHERE a.id = ?',
    [assignmentId],
  );
  if (!a) throw new Fault('not-found');
  return {
    id: a.id,
    classId: a.class_id,
    className: a.class_name,
    stage: stageOf(a.opens_at, house.now()),
    opensAt: a.opens_at?.getTime() ?? null,
    putAway: a.put_away_at !== null,
    revision: a.revision,
    words: {
      title: a.title,
      instructions: RichText.parse(JSON.parse(a.instructions)),
      category: a.category,
      unit: a.unit,
      most: a.most,
      dueAt: a.due_at?.getTime() ?? null,
      handsIn: Boolean(a.hands_in),
    },
    audience: a.audience
      ? Audience.parse(JSON.parse(a.audience))
      : { alsoClasses: [], students: a.for_all ? null : await chosenIn(house, assignmentId) },
    materials: await materialsOf(house, assignmentId),
    students: await studentsOf(house, assignmentId, a.class_id),
    familyToken: a.family_token,
  };
}

async function chosenIn(house: House, assignmentId: string): Promise<PersonId[]> {
  const rows: { student_id: PersonId }[] = await house.db.query(
    'SELECT student_id FROM copy WHERE assignment_id = ?',
    [assignmentId],
  );
  return rows.map((r) => r.student_id);
}

async function studentsOf(house: House, assignmentId: string, classId: string): Promise<AssignmentStudent[]> {
  const rows = await house.db.query(
    `SELECT p.id, p.given, p.family, c.id AS copy_id, c.excused, c.due_at,
       EXISTS (SELECT 1 FROM hand_in h WHERE h.copy_id = c.id) AS handed_in
     FROM membership m JOIN person p ON p.id = m.person_id LEFT JOIN copy c ON c.student_id = p.id AND c.assignment_id = ?
     WHERE m.class_id = ? AND m.role = 'student' AND m.left_at IS NULL ORDER BY p.family, p.given, p.id`,
    [assignmentId, classId],
  );
  return rows.map(
    (r: RawRow): AssignmentStudent => ({
      personId: r.id,
      given: r.given,
      family: r.family,
      hasCopy: r.copy_id !== null,
      excused: Boolean(r.excused),
      dueAt: r.due_at?.getTime() ?? null,
      handedIn: Boolean(Number(r.handed_in)),
    }),
  );
}

export interface Edit {
  readonly revision: number;
  readonly words: AssignmentWords;
  readonly audience: Audience;
  readonly news: string | null;
}

/**
 * Keeps an edit made on the newest revision. What was handed in stays as it was: hand-ins are frozen, and fewer points than
 * a grade that was given already are refused. Students chosen afterwards get their copy at once.
 */
export async function saveAssignment(house: House, assignmentId: AssignmentId, edit: Edit): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const [a] = await tx.query('SELECT revision, opens_at, for_all FROM assignment WHERE id = ? FOR UPDATE', [
      assignmentId,
    ]);
    if (a.revision !== edit.revision) throw new Fault('changed-elsewhere');
    const { words } = edit;
    const set = a.opens_at !== null;
    if (set && words.title === '') throw new Fault('draft-incomplete', { what: 'title' });
    if (set) await gradesFit(tx, assignmentId, words.most);
    await tx.query(
      `UPDATE assignment SET title = ?, instructions = ?, category = ?, unit = ?, most = ?, due_at = ?, hands_in = ?, audience = ?,
         revision = revision + 1 WHERE id = ?`,
      [
        words.title,
        JSON.stringify(words.instructions),
        words.category,
        words.unit,
        words.most,
        words.dueAt === null ? null : new Date(words.dueAt),
        words.handsIn,
        set ? null : JSON.stringify(edit.audience),
        assignmentId,
      ],
    );
    if (set && edit.news)
      await tx.query('UPDATE assignment SET news = ?, news_at = ? WHERE id = ?', [
        edit.news,
        new Date(house.now()),
        assignmentId,
      ]);
    if (set && !a.for_all && edit.audience.students)
      await handOut(house, tx, assignmentId, edit.audience.students);
  });
}

async function gradesFit(
  tx: { query(sql: string, values: unknown[]): Promise<RawRow[]> },
  assignmentId: string,
  most: number | null,
): Promise<void> {
  const [row] = await tx.query(
    `SELECT MAX(m.grade) AS highest FROM marking m JOIN hand_in h ON h.id = m.hand_in_id JOIN copy c ON c.id = h.copy_id WHERE c.assignment_id = ?`,
    [assignmentId],
  );
  if (row?.highest != null && (most === null || row.highest > most))
    throw new Fault('grade-above', { grade: row.highest });
}

/** Students chosen for it must be in its class. */
export async function inClass(
  house: House,
  assignmentId: string,
  people: readonly PersonId[],
): Promise<void> {
  if (people.length === 0) return;
  const rows = await house.db.query(
    `SELECT m.person_id FROM membership m JOIN assignment a ON a.class_id = m.class_id
     WHERE a.id = ? AND m.role = 'student' AND m.person_id IN (?)`,
    [assignmentId, people],
  );
  if (rows.length < new Set(people).size) throw new Fault('not-found');
}

export async function putAway(house: House, assignmentId: string, away: boolean): Promise<void> {
  await house.db.query('UPDATE assignment SET put_away_at = ? WHERE id = ?', [
    away ? new Date(house.now()) : null,
    assignmentId,
  ]);
}

/** Excuses one student, or gives them a date of their own. */
export async function setTerms(
  house: House,
  assignmentId: string,
  personId: string,
  terms: { excused: boolean; dueAt: number | null },
): Promise<void> {
  const done = await house.db.query(
    'UPDATE copy SET excused = ?, due_at = ? WHERE assignment_id = ? AND student_id = ?',
    [terms.excused, terms.dueAt === null ? null : new Date(terms.dueAt), assignmentId, personId],
  );
  if (done.affectedRows === 0) throw new Fault('not-found');
}

/** A new address for families that nobody can guess, or none: the one before leads nowhere from now on. */
export async function setFamilyAddress(house: House, assignmentId: string, open: boolean): Promise<void> {
  await house.db.query('UPDATE assignment SET family_token = ? WHERE id = ?', [
    open ? randomBytes(24).toString('base64url') : null,
    assignmentId,
  ]);
}
