import { randomBytes } from 'node:crypto';
import type {
  AssignmentId,
  AssignmentLine,
  AssignmentSheet,
  AssignmentStudent,
  Audience,
  BodyOf,
  ClassId,
  CopyId,
  Person,
  PersonId,
  Routes,
} from '@jotmark/core';
import { In } from 'typeorm';
import {
  type AssignmentRow,
  AssignmentTable,
  ClassTable,
  CopyMemberTable,
  CopyTable,
  MarkingTable,
  MembershipTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { studentsOfAssignment } from '../news/of-class.ts';
import { tell } from '../news/tell.ts';
import { copiesOf, handOut } from './hand-out.ts';
import { stageOf } from './head.ts';
import { materialsOf } from './materials.ts';
import { trialOf } from './trial.ts';
import { UNTOUCHED } from './untouched.ts';

/** All work of a class: drafts and what is to come first, then the newest. */
export async function assignmentsOf(house: House, classId: ClassId): Promise<AssignmentLine[]> {
  const rows = await pick(
    house.db.manager
      .createQueryBuilder(AssignmentTable, 'a')
      .where(`a.classId = :classId AND a.trialOf IS NULL AND NOT (${UNTOUCHED})`, { classId })
      .orderBy('a.opensAt IS NOT NULL')
      .addOrderBy('a.opensAt', 'DESC')
      .addOrderBy('a.createdAt', 'DESC')
      .limit(500),
    {
      id: col('a.id', as.id<AssignmentId>()),
      title: col('a.title', as.text),
      category: col('a.category', as.text),
      unit: col('a.unit', as.text),
      opensAt: col('a.opensAt', as.maybe(as.moment)),
      dueAt: col('a.dueAt', as.maybe(as.moment)),
      most: col('a.most', as.maybe(as.int)),
      putAway: col('a.putAwayAt IS NOT NULL', as.flag),
      copies: col('(SELECT COUNT(*) FROM copy c WHERE c.assignment_id = a.id)', as.int),
      handedIn: col(
        '(SELECT COUNT(DISTINCT c.id) FROM copy c JOIN hand_in h ON h.copy_id = c.id WHERE c.assignment_id = a.id)',
        as.int,
      ),
    },
  );
  const now = house.now();
  return rows.map((r) => ({ ...r, stage: stageOf(r.opensAt, now) }));
}

/** All that a teacher edits of one assignment. */
export async function readAssignment(
  house: House,
  person: Pick<Person, 'id'>,
  assignmentId: AssignmentId,
): Promise<AssignmentSheet> {
  const db = house.db.manager;
  const a = await find(db, AssignmentTable, { id: assignmentId });
  if (!a) throw new Fault('not-found');
  const { title, instructions, category, unit, most, dueAt, handsIn, takeBack } = a;
  return {
    id: a.id,
    classId: a.classId,
    className: (await find(db, ClassTable, { id: a.classId }))!.name,
    stage: stageOf(a.opensAt, house.now()),
    opensAt: a.opensAt,
    putAway: a.putAwayAt !== null,
    revision: a.revision,
    words: { title, instructions, category, unit, most, dueAt, handsIn, takeBack },
    audience: a.audience ?? {
      alsoClasses: [],
      students: a.forAll ? null : [...(await copiesOf(db, assignmentId)).keys()],
    },
    materials: await materialsOf(house, assignmentId),
    students: await studentsOf(db, assignmentId, a.classId),
    familyToken: a.familyToken,
    together: a.together,
    trial: await trialOf(db, assignmentId, person.id),
  };
}

async function studentsOf(
  db: Db,
  assignmentId: AssignmentId,
  classId: ClassId,
): Promise<AssignmentStudent[]> {
  const rows = await pick(
    db
      .createQueryBuilder(MembershipTable, 'm')
      .innerJoin('m.person', 'p')
      .leftJoin(CopyMemberTable.table, 'cm', 'cm.personId = p.id AND cm.assignmentId = :assignmentId', {
        assignmentId,
      })
      .leftJoin('cm.copy', 'c')
      .where(`m.classId = :classId AND m.role = 'student' AND m.leftAt IS NULL`, { classId })
      .orderBy('p.family')
      .addOrderBy('p.given')
      .addOrderBy('p.id'),
    {
      personId: col('p.id', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      copyId: col('c.id', as.maybe(as.id<CopyId>())),
      excused: col('COALESCE(c.excused, 0)', as.flag),
      dueAt: col('c.dueAt', as.maybe(as.moment)),
      handedIn: col('EXISTS (SELECT 1 FROM hand_in h WHERE h.copy_id = c.id)', as.flag),
    },
  );
  return rows.map((r) => ({ ...r }));
}

export interface Edit {
  readonly revision: number;
  readonly words: BodyOf<Routes['saveAssignment']>['words'];
  readonly audience: Audience;
  readonly news: string | null;
}

/**
 * Keeps an edit made on the newest revision. What was handed in stays as it was: hand-ins are frozen, and fewer points than
 * a grade that was given already are refused. Students chosen afterwards get their copy at once.
 */
export async function saveAssignment(
  house: House,
  assignmentId: AssignmentId,
  edit: Edit,
  /** Hears that the most points or the date changed, in the same transaction: grades are computed anew. */
  onScored: (tx: Db) => Promise<unknown>,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const a = await lock(tx, AssignmentTable, { id: assignmentId });
    if (!a) throw new Fault('not-found');
    if (a.revision !== edit.revision) throw new Fault('changed-elsewhere');
    const { words } = edit;
    const set = a.opensAt !== null;
    if (set && words.title === '') throw new Fault('draft-incomplete', { what: 'title' });
    if (set) await gradesFit(tx, assignmentId, words.most);
    await update(
      tx,
      AssignmentTable,
      { id: assignmentId },
      {
        ...words,
        takeBack: words.takeBack ?? a.takeBack,
        audience: set ? null : edit.audience,
        revision: a.revision + 1,
        ...(set && edit.news ? { news: edit.news, newsAt: house.now() } : {}),
      },
    );
    if (words.most !== a.most || words.dueAt !== a.dueAt) await onScored(tx);
    if (set) await tellOfEdit(house, tx, a, edit);
    if (set && !a.forAll && edit.audience.students)
      await handOut(house, tx, assignmentId, edit.audience.students);
  });
}

/** Students hear of a change that their teacher has a word about, and of another date wherever theirs follows it. */
async function tellOfEdit(house: House, tx: Db, before: AssignmentRow, { news, words }: Edit): Promise<void> {
  const moved = words.dueAt !== before.dueAt;
  if (!news && !moved) return;
  const students = await studentsOfAssignment(tx, before.id);
  const about = { assignmentId: before.id, words: news ?? '' };
  await tell(house, tx, [
    ...(moved
      ? students
          .filter((s) => s.ownDue === null)
          .map(({ personId, copyId }) => ({
            to: personId,
            what: { ...about, kind: 'new-date' as const, copyId, due: words.dueAt },
          }))
      : students.map(({ personId, copyId }) => ({
          to: personId,
          what: { ...about, kind: 'changed' as const, copyId },
        }))),
  ]);
}

/** No grade that was typed may be above the most. */
export async function gradesFit(tx: Db, assignmentId: AssignmentId, most: number | null): Promise<void> {
  const row = await pickOne(
    tx
      .createQueryBuilder(MarkingTable, 'm')
      .innerJoin('m.copy', 'c')
      .where('c.assignmentId = :assignmentId', { assignmentId }),
    { highest: col('MAX(m.grade)', as.maybe(as.int)) },
  );
  const highest = row?.highest ?? null;
  if (highest !== null && (most === null || highest > most))
    throw new Fault('grade-above', { grade: highest });
}

/** Students chosen for it must be in its class. */
export async function inClass(
  house: House,
  assignmentId: AssignmentId,
  people: readonly PersonId[],
): Promise<void> {
  if (people.length === 0) return;
  const db = house.db.manager;
  const a = await find(db, AssignmentTable, { id: assignmentId });
  const there = await db
    .getRepository(MembershipTable)
    .count({ where: { classId: a!.classId, role: 'student', personId: In([...people]) } });
  if (there < new Set(people).size) throw new Fault('not-found');
}

export async function putAway(house: House, id: AssignmentId, away: boolean): Promise<void> {
  await update(house.db.manager, AssignmentTable, { id }, { putAwayAt: away ? house.now() : null });
}

/** Names are hidden from those who mark, or shown again. */
export async function setBlind(house: House, id: AssignmentId, blind: boolean): Promise<void> {
  await update(house.db.manager, AssignmentTable, { id }, { blind });
}

/** From now on nobody takes a hand-in back. An edit that was begun before is told that it is on something older. */
export async function closeTakingBack(house: House, id: AssignmentId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const a = await lock(tx, AssignmentTable, { id });
    if (!a) throw new Fault('not-found');
    await update(tx, AssignmentTable, { id }, { takeBack: 'never', revision: a.revision + 1 });
  });
}

/** Excuses one student, or gives them a date of their own. */
export async function setTerms(
  house: House,
  assignmentId: AssignmentId,
  personId: PersonId,
  terms: { excused: boolean; dueAt: number | null },
  /** Hears that a date may have changed, in the same transaction. */
  onScored: (tx: Db) => Promise<unknown>,
): Promise<void> {
  const db = house.db.manager;
  const member = await find(db, CopyMemberTable, { assignmentId, personId });
  if (!member) throw new Fault('not-found');
  await inTransaction(house.db, async (tx) => {
    await lock(tx, AssignmentTable, { id: assignmentId });
    await tellOfDates(house, tx, assignmentId, [member.copyId], terms.dueAt);
    await update(tx, CopyTable, { id: member.copyId }, terms);
    await onScored(tx);
  });
}

/** Excuses many at once, or gives them another date; what is not named stays as it is. Copies of other piles are left alone. */
export async function setPileTerms(
  house: House,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
  { excused, dueAt }: { readonly excused?: boolean | undefined; readonly dueAt?: number | null | undefined },
  onScored: (tx: Db) => Promise<unknown>,
): Promise<void> {
  const set = {
    ...(excused === undefined ? {} : { excused }),
    ...(dueAt === undefined ? {} : { dueAt }),
  };
  if (Object.keys(set).length === 0) return;
  await inTransaction(house.db, async (tx) => {
    if (dueAt !== undefined) {
      await lock(tx, AssignmentTable, { id: assignmentId });
      await tellOfDates(house, tx, assignmentId, copyIds, dueAt);
    }
    await tx.getRepository(CopyTable).update({ assignmentId, id: In([...copyIds]) }, set);
    if (dueAt !== undefined) await onScored(tx);
  });
}

/** Students whose date becomes another hear of it; of work that is not open yet nobody does. */
async function tellOfDates(
  house: House,
  tx: Db,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
  own: number | null,
): Promise<void> {
  const a = await find(tx, AssignmentTable, { id: assignmentId });
  if (!a || a.opensAt === null || a.opensAt > house.now()) return;
  const now = new Set(copyIds);
  const due = own ?? a.dueAt;
  await tell(
    house,
    tx,
    (await studentsOfAssignment(tx, assignmentId))
      .filter((s) => now.has(s.copyId) && (s.ownDue ?? a.dueAt) !== due)
      .map(({ personId, copyId }) => ({
        to: personId,
        what: { kind: 'new-date', assignmentId, copyId, due },
      })),
  );
}

/** A new address for families that nobody can guess, or none: the one before leads nowhere from now on. */
export async function setFamilyAddress(house: House, id: AssignmentId, open: boolean): Promise<void> {
  const familyToken = open ? randomBytes(24).toString('base64url') : null;
  await update(house.db.manager, AssignmentTable, { id }, { familyToken });
}
