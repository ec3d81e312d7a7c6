import {
  type AssignmentId,
  type ClassId,
  type CopyId,
  EMPTY_RICH,
  type Person,
  type PersonId,
  type RichText,
  richFromPlain,
  type Together,
} from '@jotmark/core';
import { In, IsNull } from 'typeorm';
import {
  type AssignmentRow,
  AssignmentTable,
  ClassTable,
  JobTable,
  MaterialTable,
  MembershipTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { PROGRESS, progressOf } from '../jobs/progress.ts';
import { handOut, studentsIn } from './hand-out.ts';
import { copyMaterials } from './materials.ts';
import { UNTOUCHED } from './untouched.ts';

/** A draft with nothing in it. */
const blank = (house: House, classId: ClassId): AssignmentRow => ({
  id: newId<AssignmentId>(house),
  classId,
  title: '',
  instructions: EMPTY_RICH,
  dueAt: null,
  most: null,
  createdAt: house.now(),
  category: '',
  unit: '',
  opensAt: null,
  forAll: true,
  handsIn: true,
  takeBack: 'until-marked',
  putAwayAt: null,
  familyToken: null,
  news: null,
  newsAt: null,
  audience: null,
  revision: 1,
  blind: false,
  rubricVersionId: null,
  scoring: null,
  trialOf: null,
  together: null,
});

/** Somebody may still look at a draft that was begun less long ago than this. */
const IN_HAND_MS = 30 * 60_000;

/** Begins a draft for a class: nobody but its teachers sees it. One that was begun and left empty is taken up again. */
export async function startDraft(house: House, classId: ClassId): Promise<AssignmentId> {
  const db = house.db.manager;
  const row = blank(house, classId);
  const { unit } = (await find(db, ClassTable, { id: classId }))!;
  const [left] = await pick(
    db
      .createQueryBuilder(AssignmentTable, 'a')
      .where(`a.classId = :classId AND a.trialOf IS NULL AND a.createdAt < :before AND ${UNTOUCHED}`, {
        classId,
        before: new Date(house.now() - IN_HAND_MS),
      })
      .limit(1),
    { id: col('a.id', as.id<AssignmentId>()) },
  );
  if (left) {
    await update(db, AssignmentTable, { id: left.id }, { createdAt: house.now(), unit });
    return left.id;
  }
  await insert(db, AssignmentTable, { ...row, unit });
  return row.id;
}

/** The same again as a draft for a class: words and materials, without dates. */
export async function setAgain(
  house: House,
  assignmentId: AssignmentId,
  classId: ClassId,
): Promise<AssignmentId> {
  return inTransaction(house.db, async (tx) => {
    const id = await sibling(house, tx, assignmentId, classId);
    await update(tx, AssignmentTable, { id }, { dueAt: null });
    return id;
  });
}

/** What another class gets as it is. Who is with whom is each class's own matter, see below. */
const SAME = [
  'title',
  'instructions',
  'dueAt',
  'most',
  'category',
  'unit',
  'handsIn',
  'takeBack',
  'rubricVersionId',
  'scoring',
] as const satisfies readonly (keyof AssignmentRow)[];

/** What is the same of an assignment that is set for another class too. */
export async function sibling(
  house: House,
  tx: Db,
  from: AssignmentId,
  classId: ClassId,
): Promise<AssignmentId> {
  const row = blank(house, classId);
  const whole = (await find(tx, AssignmentTable, { id: from }))!;
  const same = Object.fromEntries(SAME.map((key) => [key, whole[key]])) as Pick<
    AssignmentRow,
    (typeof SAME)[number]
  >;
  const { together } = whole;
  // Who is with whom is another class's own matter.
  const alike = { together: together && { ...together, groups: [] } };
  await insert(tx, AssignmentTable, { ...row, ...same, ...alike });
  await copyMaterials(house, tx, from, row.id);
  return row.id;
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
    const draft = await lock(tx, AssignmentTable, { id: assignmentId });
    if (!draft) throw new Fault('not-found');
    if (draft.opensAt !== null) throw new Fault('already-set');
    if (draft.title === '') throw new Fault('draft-incomplete', { what: 'title' });
    await worksheetsAreRead(tx, assignmentId);
    const audience = draft.audience ?? { alsoClasses: [], students: null };
    const others = audience.alsoClasses.filter((c) => c !== draft.classId);
    const classes = [draft.classId, ...(await taughtOf(tx, person, others))];
    const opens = opensAt === null ? house.now() : Math.max(opensAt, house.now());
    const assignmentIds: AssignmentId[] = [];
    let copies = 0;
    for (const [i, classId] of classes.entries()) {
      const id = i === 0 ? assignmentId : await sibling(house, tx, assignmentId, classId);
      const chosen = i === 0 ? audience.students : null;
      const inClass = await studentsIn(tx, classId);
      const students = chosen ? inClass.filter((s) => chosen.includes(s)) : inClass;
      if (chosen && students.length === 0) throw new Fault('draft-incomplete', { what: 'students' });
      await update(tx, AssignmentTable, { id }, { opensAt: opens, forAll: chosen === null, audience: null });
      const given = await handOut(house, tx, id, students, i === 0 ? (draft.together?.groups ?? []) : []);
      copies += new Set(given.values()).size;
      assignmentIds.push(id);
    }
    return { assignmentIds, copies };
  });
}

/** A worksheet whose pages are not there yet, or cannot be, is not handed out. */
export async function worksheetsAreRead(tx: Db, assignmentId: AssignmentId): Promise<void> {
  const unread = await pickOne(
    tx
      .createQueryBuilder(MaterialTable, 'x')
      .innerJoin('x.version', 'v')
      .innerJoin('v.worksheet', 'k')
      .innerJoin('v.document', 'd')
      .leftJoin(JobTable.table, 'j', `j.kind = 'read-document' AND j.subject = d.id`)
      .where('x.assignmentId = :assignmentId AND d.frames IS NULL', { assignmentId })
      .limit(1),
    { name: col('k.name', as.text), ...PROGRESS },
  );
  if (!unread) return;
  const { state } = progressOf(unread);
  const coming = state === 'queued' || state === 'running';
  throw new Fault('draft-incomplete', { what: coming ? 'pages' : 'no-pages', name: unread.name });
}

async function taughtOf(tx: Db, person: Person, classIds: readonly ClassId[]): Promise<ClassId[]> {
  if (classIds.length === 0) return [];
  const rows = await tx.getRepository(MembershipTable).find({
    where: { role: 'teacher', personId: person.id, classId: In([...classIds]), leftAt: IsNull() },
  });
  const taught = new Set(rows.map((r) => r.classId));
  if (classIds.some((c) => !taught.has(c))) throw new Fault('not-found');
  return [...taught];
}

/** A class with its people, without the requests in between. */
export async function addClass(
  house: House,
  about: { name: string; unit: string; teachers: readonly PersonId[]; students: readonly PersonId[] },
): Promise<ClassId> {
  const id = newId<ClassId>(house);
  await inTransaction(house.db, async (tx) => {
    await insert(tx, ClassTable, {
      id,
      name: about.name,
      unit: about.unit,
      createdAt: house.now(),
      bookRule: null,
      archivedAt: null,
    });
    const members = [
      ...about.teachers.map((personId) => ({ personId, role: 'teacher' as const })),
      ...about.students.map((personId) => ({ personId, role: 'student' as const })),
    ];
    if (members.length)
      await insert(
        tx,
        MembershipTable,
        members.map((m) => ({ classId: id, leftAt: null, ...m })),
      );
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
  readonly together?: Together;
}

/** For code that makes schools: an assignment set for a whole class at once. Gives the copies by student. */
export async function setAssignment(
  house: House,
  about: ToSet,
  beforeHandingOut: (id: AssignmentId) => Promise<void> = async () => {},
): Promise<{ id: AssignmentId; copies: Map<PersonId, CopyId> }> {
  const id = await startDraft(house, about.classId);
  const { instructions } = about;
  await update(
    house.db.manager,
    AssignmentTable,
    { id },
    {
      title: about.title,
      instructions: typeof instructions === 'string' ? richFromPlain(instructions) : instructions,
      dueAt: about.dueAt,
      most: about.most,
      category: about.category ?? '',
      handsIn: about.handsIn ?? true,
      together: about.together ?? null,
    },
  );
  await beforeHandingOut(id);
  const copies = await inTransaction(house.db, async (tx) => {
    await update(tx, AssignmentTable, { id }, { opensAt: house.now() });
    return handOut(house, tx, id, await studentsIn(tx, about.classId), about.together?.groups);
  });
  return { id, copies };
}
