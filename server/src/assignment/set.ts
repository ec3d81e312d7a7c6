import {
  type AssignmentId,
  Audience,
  type ClassId,
  type CopyId,
  EMPTY_RICH,
  type Person,
  type PersonId,
  type RichText,
  richFromPlain,
} from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import { inTransaction } from '../database/transaction.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';
import { handOut, studentsIn } from './hand-out.ts';
import { copyMaterials } from './materials.ts';

/** Begins a draft for a class: nobody but its teachers sees it. */
export async function startDraft(house: House, classId: ClassId): Promise<AssignmentId> {
  const id = newId<AssignmentId>(house);
  const [row] = await house.db.query('SELECT unit FROM school_class WHERE id = ?', [classId]);
  await house.db.query(
    'INSERT INTO assignment (id, class_id, title, instructions, unit, created_at) VALUES (?, ?, ?, ?, ?, ?)',
    [id, classId, '', JSON.stringify(EMPTY_RICH), row.unit, new Date(house.now())],
  );
  return id;
}

const COPIED = 'title, instructions, due_at, most, category, unit, hands_in';

/** The same again as a draft for a class: words and materials, without dates. */
export async function setAgain(
  house: House,
  assignmentId: AssignmentId,
  classId: ClassId,
): Promise<AssignmentId> {
  return inTransaction(house.db, async (tx) => {
    const id = await sibling(house, tx, assignmentId, classId);
    await tx.query('UPDATE assignment SET due_at = NULL WHERE id = ?', [id]);
    return id;
  });
}

async function sibling(
  house: House,
  tx: EntityManager,
  from: AssignmentId,
  classId: ClassId,
): Promise<AssignmentId> {
  const id = newId<AssignmentId>(house);
  await tx.query(
    `INSERT INTO assignment (id, class_id, created_at, ${COPIED}) SELECT ?, ?, ?, ${COPIED} FROM assignment WHERE id = ?`,
    [id, classId, new Date(house.now()), from],
  );
  await copyMaterials(house, tx, from, id);
  return id;
}

/**
 * Sets a draft: every student it is for gets a copy, at once or to open at a set time. For several classes each gets an
 * assignment of its own, so that each has its pile. What is set already is refused.
 */
export async function setDraft(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  opensAt: number | null,
): Promise<{ assignmentIds: AssignmentId[]; copies: number }> {
  return inTransaction(house.db, async (tx) => {
    const [draft] = await tx.query(
      'SELECT class_id, title, opens_at, audience FROM assignment WHERE id = ? FOR UPDATE',
      [assignmentId],
    );
    if (draft.opens_at) throw new Fault('already-set');
    if (draft.title === '') throw new Fault('draft-incomplete', { what: 'title' });
    await worksheetsAreRead(tx, assignmentId);
    const audience: Audience = draft.audience
      ? Audience.parse(JSON.parse(draft.audience))
      : { alsoClasses: [], students: null };
    const also = await taughtOf(
      tx,
      person,
      audience.alsoClasses.filter((c) => c !== draft.class_id),
    );
    const opens = new Date(opensAt === null ? house.now() : Math.max(opensAt, house.now()));
    const all: AssignmentId[] = [assignmentId];
    for (const classId of also) all.push(await sibling(house, tx, assignmentId, classId));
    let copies = 0;
    for (const [i, id] of all.entries()) {
      const inClass = await studentsIn(tx, i === 0 ? draft.class_id : also[i - 1]!);
      const chosen =
        i === 0 && audience.students ? inClass.filter((s) => audience.students!.includes(s)) : inClass;
      if (i === 0 && audience.students && chosen.length === 0)
        throw new Fault('draft-incomplete', { what: 'students' });
      await tx.query('UPDATE assignment SET opens_at = ?, for_all = ?, audience = NULL WHERE id = ?', [
        opens,
        i > 0 || audience.students === null,
        id,
      ]);
      copies += (await handOut(house, tx, id, chosen)).size;
    }
    return { assignmentIds: all, copies };
  });
}

/** A worksheet whose pages are not there yet, or cannot be, is not handed out. */
async function worksheetsAreRead(tx: EntityManager, assignmentId: string): Promise<void> {
  const rows = await tx.query(
    `SELECT k.name FROM material x JOIN worksheet_version v ON v.id = x.version_id JOIN worksheet k ON k.id = v.worksheet_id
       JOIN document d ON d.id = v.document_id WHERE x.assignment_id = ? AND d.frames IS NULL`,
    [assignmentId],
  );
  if (rows.length) throw new Fault('draft-incomplete', { what: 'pages', name: rows[0].name });
}

async function taughtOf(tx: EntityManager, person: Person, classIds: readonly ClassId[]): Promise<ClassId[]> {
  if (classIds.length === 0) return [];
  const rows: { class_id: ClassId }[] = await tx.query(
    `SELECT class_id FROM membership WHERE role = 'teacher' AND person_id = ? AND class_id IN (?)`,
    [person.id, classIds],
  );
  const taught = new Set(rows.map((r) => r.class_id));
  if (classIds.some((c) => !taught.has(c))) throw new Fault('not-found');
  return [...taught];
}

/** For code that makes schools: a class with its people, without the requests in between. */
export async function addClass(
  house: House,
  about: { name: string; unit: string; teachers: readonly PersonId[]; students: readonly PersonId[] },
): Promise<ClassId> {
  const id = newId<ClassId>(house);
  await house.db.transaction(async (tx) => {
    await tx.query('INSERT INTO school_class (id, name, unit, created_at) VALUES (?, ?, ?, ?)', [
      id,
      about.name,
      about.unit,
      new Date(house.now()),
    ]);
    const rows = [
      ...about.teachers.map((p) => [id, p, 'teacher']),
      ...about.students.map((p) => [id, p, 'student']),
    ];
    if (rows.length) await tx.query('INSERT INTO membership (class_id, person_id, role) VALUES ?', [rows]);
  });
  return id;
}

export interface ToSet {
  readonly classId: ClassId;
  readonly title: string;
  readonly instructions: string | RichText;
  readonly dueAt: number | null;
  readonly most: number | null;
  readonly category?: string;
  readonly handsIn?: boolean;
}

/** For code that makes schools: an assignment set for a whole class at once. Gives the copies by student. */
export async function setAssignment(
  house: House,
  about: ToSet,
  beforeHandingOut: (id: AssignmentId) => Promise<void> = async () => {},
): Promise<{ id: AssignmentId; copies: Map<PersonId, CopyId> }> {
  const id = await startDraft(house, about.classId);
  const { instructions } = about;
  await house.db.query(
    'UPDATE assignment SET title = ?, instructions = ?, due_at = ?, most = ?, category = ?, hands_in = ? WHERE id = ?',
    [
      about.title,
      JSON.stringify(typeof instructions === 'string' ? richFromPlain(instructions) : instructions),
      about.dueAt === null ? null : new Date(about.dueAt),
      about.most,
      about.category ?? '',
      about.handsIn ?? true,
      id,
    ],
  );
  await beforeHandingOut(id);
  const copies = await house.db.transaction(async (tx) => {
    await tx.query('UPDATE assignment SET opens_at = ? WHERE id = ?', [new Date(house.now()), id]);
    return handOut(house, tx, id, await studentsIn(tx, about.classId));
  });
  return { id, copies };
}
