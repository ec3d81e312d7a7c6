import {
  type AssignmentId,
  type CopyId,
  fullName,
  type HandInId,
  mayChoose,
  type Person,
  type PersonId,
  placeForStudent,
  RichText,
  type RubricVersionId,
  realName,
  TakingBack,
  Together,
  type Work,
  type WorkRow,
} from '@jotmark/core';
import { HEAD, headOf } from '../assignment/head.ts';
import { materialsOf } from '../assignment/materials.ts';
import { unreadCounts } from '../conversation/unread.ts';
import { filesOf } from '../copy/files.ts';
import { LATE } from '../copy/late.ts';
import { sheetsOf } from '../copy/sheets.ts';
import { readCopyState } from '../copy/state.ts';
import { CopyMemberTable, CopyTable, HandInTable, MembershipTable } from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne, type RowOfPicks } from '../database/pick.ts';
import { update } from '../database/write.ts';
import { filledIn } from '../document/filled.ts';
import { documentsOf } from '../document/state.ts';
import { Fault } from '../fault.ts';
import { earlierBacks, newestHandBack, releasedMidway } from '../hand-back/read.ts';
import { recalledNow } from '../hand-back/recall.ts';
import { teacherNames } from '../hand-in/take-back.ts';
import type { House } from '../house.ts';
import { nameOf } from '../people/person.ts';
import { whose } from '../people/students.ts';
import { hungRubric } from '../rubric/hung.ts';

/**
 * The student's side. It knows hand-ins and hand-backs and nothing of what lies between: no table of the
 * marking is named here.
 */
const ROW = {
  ...HEAD,
  copyId: col('c.id', as.id<CopyId>()),
  ownDue: col('c.dueAt', as.maybe(as.moment)),
  excused: col('c.excused', as.flag),
  unit: col('a.unit', as.text),
  category: col('a.category', as.text),
  newsAt: col('a.newsAt', as.maybe(as.moment)),
  seenAt: col('c.seenAt', as.maybe(as.moment)),
  handInId: col('h.id', as.maybe(as.id<HandInId>())),
  number: col('h.number', as.maybe(as.int)),
  handedInAt: col('h.handedInAt', as.maybe(as.moment)),
  claimedAt: col('h.claimedAt', as.maybe(as.moment)),
  brought: col('h.brought IS NOT NULL', as.flag),
  byId: col('h.byId', as.maybe(as.id<PersonId>())),
  lateMs: col(LATE, as.maybe(as.int)),
  handedBack: col(
    '(SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id AND b.unfinished = 0)',
    as.maybe(as.int),
  ),
  handedBackAt: col(
    '(SELECT MAX(b.handed_back_at) FROM hand_back b WHERE b.copy_id = c.id AND b.round > 0)',
    as.maybe(as.moment),
  ),
  backAlone: col(
    'EXISTS (SELECT 1 FROM hand_back b WHERE b.copy_id = c.id AND b.hand_in_id IS NULL AND b.round > 0 AND b.unfinished = 0)',
    as.flag,
  ),
  unfinished: col(
    'EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id) AND NOT EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id AND b.unfinished = 0)',
    as.flag,
  ),
} as const;

/** This person's copies `c` with their newest hand-in `h`. */
const copiesOf = (db: Db, person: Person) =>
  db
    .createQueryBuilder(CopyTable, 'c')
    .innerJoin(CopyMemberTable.table, 'cm', 'cm.copyId = c.id AND cm.personId = :me', { me: person.id })
    .innerJoin('c.assignment', 'a')
    .innerJoin('a.class', 'k')
    .leftJoin(
      HandInTable.table,
      'h',
      'h.copyId = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)',
    );

function rowOf(r: RowOfPicks<typeof ROW>, unread: number, now: number): WorkRow {
  const assignment = headOf(r, r.ownDue);
  const place = placeForStudent({
    handIns: r.number ?? 0,
    handedBack: r.handedBack ?? 0,
    backAlone: r.backAlone,
  });
  return {
    copyId: r.copyId,
    assignment,
    place,
    excused: r.excused,
    unit: r.unit,
    category: r.category,
    late: r.lateMs ?? 0,
    overdue: place === 'with-student' && !r.excused && assignment.dueAt !== null && assignment.dueAt < now,
    handedInAt: r.handedInAt,
    handedBackAt: r.handedBackAt,
    unfinished: r.unfinished,
    unread,
    changed: r.newsAt !== null && (r.seenAt === null || r.newsAt > r.seenAt),
  };
}

/** A student’s open work. What was archived, and what is of a class that they have left, shows only where something came back. */
export async function workList(house: House, person: Person): Promise<WorkRow[]> {
  const db = house.db.manager;
  const now = house.now();
  const rows = await pick(
    copiesOf(db, person)
      .innerJoin(MembershipTable.table, 'm', 'm.classId = a.classId AND m.personId = :me')
      .where('a.opensAt <= :now', { now: new Date(now) })
      .andWhere(
        `k.archivedAt IS NULL AND (a.putAwayAt IS NULL AND m.leftAt IS NULL OR EXISTS (SELECT 1 FROM hand_back b WHERE b.copy_id = c.id AND b.round > 0))`,
      )
      .orderBy(`COALESCE(c.due_at, a.due_at, '9999-01-01')`)
      .addOrderBy('a.title')
      .limit(500),
    ROW,
  );
  const unread = await unreadCounts(
    db,
    person,
    rows.map((r) => r.copyId),
  );
  return rows.map((r) => rowOf(r, unread.get(r.copyId) ?? 0, now));
}

export async function readWork(house: House, person: Person, copyId: CopyId): Promise<Work> {
  const db = house.db.manager;
  const row = await pickOne(copiesOf(db, person).where('c.id = :copyId', { copyId }), {
    ...ROW,
    instructions: col(
      'a.instructions',
      as.json((raw) => RichText.safeParse(raw)),
    ),
    handsIn: col('a.handsIn', as.flag),
    takeBack: col('a.takeBack', as.oneOf(TakingBack.options)),
    trialOf: col('a.trialOf', as.maybe(as.id<AssignmentId>())),
    together: col('a.together', as.maybe(as.json((raw) => Together.safeParse(raw)))),
    news: col('a.news', as.maybe(as.text)),
    rubricVersionId: col('a.rubricVersionId', as.maybe(as.id<RubricVersionId>())),
  });
  if (!row) throw new Fault('not-found');
  const unread = await unreadCounts(db, person, [copyId]);
  const assignmentId: AssignmentId = row.assignmentId;
  const rubric = await hungRubric(db, row.rubricVersionId);
  const students = (await whose(db, copyId))?.students ?? [];
  const { given, family } = realName(students);
  const others = students.filter((s) => s.id !== person.id).map((s) => fullName(s));
  const choosing = mayChoose(row.together, house.now());
  return {
    row: rowOf(row, unread.get(copyId) ?? 0, house.now()),
    trialOf: row.trialOf,
    instructions: row.instructions,
    news: row.newsAt !== null ? { words: row.news ?? '', at: row.newsAt } : null,
    materials: (await materialsOf(house, assignmentId)).filter((m) => m.kind !== 'worksheet'),
    student: { given, family },
    together: others.length || choosing ? { others, mayChoose: choosing } : null,
    teachers: await teacherNames(db, copyId),
    handsIn: row.handsIn,
    takeBack: row.takeBack,
    sheets: await sheetsOf(db, copyId),
    state: await readCopyState(db, copyId),
    files: await filesOf(db, copyId),
    handIn: row.handInId
      ? {
          id: row.handInId,
          number: row.number!,
          handedInAt: row.handedInAt!,
          claimedAt: row.claimedAt,
          by: row.brought ? await nameOf(db, row.byId) : null,
          documents: await documentsOf(db, row.handInId),
          filled: await filledIn(db, row.handInId),
        }
      : null,
    handBack: await newestHandBack(db, copyId, person.id),
    earlier: await earlierBacks(db, copyId),
    recalled: await recalledNow(db, copyId),
    midway: await releasedMidway(db, copyId),
    rubric: rubric && { name: rubric.name, rubric: rubric.rubric, number: rubric.number },
  };
}

/** The student has looked at it: what was told of a change counts as seen. */
export async function markSeen(house: House, id: CopyId): Promise<void> {
  await update(house.db.manager, CopyTable, { id }, { seenAt: house.now() });
}
