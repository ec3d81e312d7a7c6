import {
  type AssignmentId,
  type BookCell,
  type BookColumn,
  type BookRule,
  type ChangeId,
  type ClassId,
  type CopyId,
  compareNames,
  gradeOf,
  type HandInId,
  type MarkBook,
  OwnGrades,
  type PersonId,
  PLAIN_RULE,
  placeOf,
  plainScoring,
  readScoring,
} from '@jotmark/core';
import { LATE } from '../copy/late.ts';
import {
  AssignmentTable,
  ClassTable,
  CopyMemberTable,
  HandInTable,
  MarkingTable,
  MembershipTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick, type RowOfPicks } from '../database/pick.ts';
import { find, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { BLIND } from '../people/students.ts';

const CELL = {
  personId: col('cm.personId', as.id<PersonId>()),
  assignmentId: col('a.id', as.id<AssignmentId>()),
  copyId: col('c.id', as.id<CopyId>()),
  due: col('COALESCE(c.dueAt, a.dueAt)', as.maybe(as.moment)),
  excused: col('c.excused', as.flag),
  blind: col(BLIND, as.flag),
  number: col('h.number', as.maybe(as.int)),
  handInId: col('h.id', as.maybe(as.id<HandInId>())),
  late: col(LATE, as.maybe(as.int)),
  markingId: col('m.id', as.maybe(as.text)),
  done: col('m.done', as.maybe(as.flag)),
  typed: col('m.grade', as.maybe(as.int)),
  computed: col('m.computed', as.maybe(as.int)),
  gradeVersion: col('m.gradeVersion', as.maybe(as.id<ChangeId>())),
  own: col('m.own', as.maybe(as.json((raw) => OwnGrades.safeParse(raw)))),
  handedBack: col(
    '(SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id AND b.goes_on = 0)',
    as.maybe(as.int),
  ),
  backAlone: col(
    'EXISTS (SELECT 1 FROM hand_back b WHERE b.copy_id = c.id AND b.hand_in_id IS NULL AND b.round > 0 AND b.goes_on = 0)',
    as.flag,
  ),
} as const;

function cellOf(r: RowOfPicks<typeof CELL>, now: number): BookCell {
  const { personId, assignmentId, excused } = r;
  const place = placeOf({
    handIns: r.number ?? 0,
    handedBack: r.handedBack ?? 0,
    marking: r.markingId ? { done: r.done ?? false } : null,
    backAlone: r.backAlone,
  });
  // Who a grade belongs to is told by nobody as long as it is marked blind.
  if (r.blind)
    return {
      ...{ personId, assignmentId, place, excused },
      ...{ copyId: null, grade: null, own: false, held: true, missing: false, late: false },
      ...{ handInId: null, typed: null, computed: null, gradeVersion: null },
    };
  const own = r.own?.[personId];
  const grade = own ?? gradeOf(r.typed, r.computed);
  return {
    personId,
    assignmentId,
    copyId: r.copyId,
    place,
    grade,
    own: own !== undefined,
    held: place !== 'handed-back',
    excused,
    missing: place === 'with-student' && !excused && grade === null && r.due !== null && r.due < now,
    late: (r.late ?? 0) > 0,
    handInId: r.handInId,
    typed: r.typed,
    computed: r.computed,
    gradeVersion: r.gradeVersion,
  };
}

/** The work that was set for a class and is not put away, by when it was due. */
async function columnsOf(db: Db, classId: ClassId): Promise<BookColumn[]> {
  const rows = await pick(
    db
      .createQueryBuilder(AssignmentTable, 'a')
      .where('a.classId = :classId AND a.opensAt IS NOT NULL AND a.trialOf IS NULL AND a.putAwayAt IS NULL', {
        classId,
      })
      .orderBy('COALESCE(a.due_at, a.opens_at)')
      .addOrderBy('a.id')
      .limit(500),
    {
      id: col('a.id', as.id<AssignmentId>()),
      title: col('a.title', as.text),
      category: col('a.category', as.text),
      unit: col('a.unit', as.text),
      at: col('COALESCE(a.due_at, a.opens_at)', as.moment),
      most: col('a.most', as.maybe(as.int)),
      scoring: col('a.scoring', as.maybe(as.json(readScoring))),
    },
  );
  return rows.map(({ scoring, ...column }) => ({ ...column, scale: (scoring ?? plainScoring(false)).scale }));
}

/** The grades of a class over all that was set for it: in one statement for the work and one for all copies, however many there are. */
export async function readMarkBook(house: House, classId: ClassId): Promise<MarkBook> {
  const db = house.db.manager;
  const now = house.now();
  const row = await find(db, ClassTable, { id: classId });
  if (!row) throw new Fault('not-found');
  const students = await pick(
    db
      .createQueryBuilder(MembershipTable, 'ms')
      .innerJoin('ms.person', 'p')
      .where(`ms.classId = :classId AND ms.role = 'student' AND ms.leftAt IS NULL`, { classId }),
    {
      id: col('p.id', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
    },
  );
  const cells = await pick(
    db
      .createQueryBuilder(CopyMemberTable, 'cm')
      .innerJoin('cm.copy', 'c')
      .innerJoin('c.assignment', 'a')
      .innerJoin(
        MembershipTable.table,
        'ms',
        'ms.classId = a.classId AND ms.personId = cm.personId AND ms.leftAt IS NULL',
      )
      .leftJoin(
        HandInTable.table,
        'h',
        'h.copyId = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)',
      )
      .leftJoin(MarkingTable.table, 'm', 'm.copyId = c.id AND m.number = COALESCE(h.number, 0)')
      .where('a.classId = :classId AND a.opensAt IS NOT NULL AND a.trialOf IS NULL AND a.putAwayAt IS NULL', {
        classId,
      }),
    CELL,
  );
  return {
    className: row.name,
    rule: row.bookRule ?? PLAIN_RULE,
    students: [...students].sort(
      (a, b) => compareNames(a.family, b.family) || compareNames(a.given, b.given) || (a.id < b.id ? -1 : 1),
    ),
    columns: await columnsOf(db, classId),
    cells: cells.map((c) => cellOf(c, now)),
  };
}

export const saveBookRule = (house: House, id: ClassId, bookRule: BookRule): Promise<unknown> =>
  update(house.db.manager, ClassTable, { id }, { bookRule });
