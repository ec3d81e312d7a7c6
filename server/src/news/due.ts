import { type AssignmentId, type CopyId, momentAt, type PersonId, wallTime } from '@jotmark/core';
import {
  AssignmentTable,
  CopyMemberTable,
  CopyTable,
  HandBackTable,
  HandInTable,
  MarkingTable,
  MembershipTable,
  NoticeTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import type { House } from '../house.ts';
import { type ToTell, tell } from './tell.ts';

const DAY = 86_400_000;
/** "Due tomorrow" is said in the afternoon before, by the school's clock. */
const EVE = '15:00';
/** Marked and not handed back for so long is forgotten. */
const FORGOTTEN_MS = 3 * DAY;

/** Copies `c` of open work with the students who have them now. */
const given = (db: Db) =>
  db
    .createQueryBuilder(CopyTable, 'c')
    .innerJoin(AssignmentTable.table, 'a', 'a.id = c.assignmentId AND a.putAwayAt IS NULL')
    .innerJoin(CopyMemberTable.table, 'm', 'm.copyId = c.id')
    .innerJoin(
      MembershipTable.table,
      's',
      's.classId = a.classId AND s.personId = m.personId AND s.leftAt IS NULL',
    );

const notTold = (once: string) =>
  `NOT EXISTS (SELECT 1 FROM ${NoticeTable.options.name} n WHERE n.person_id = m.person_id AND n.once = ${once})`;

/**
 * Tells of what comes by the clock: work that has opened, what is due tomorrow, and piles that were marked and forgotten. Safe to call at any time and
 * from many servers: each thing is told once.
 */
export async function tellByTheClock(house: House): Promise<void> {
  const db = house.db.manager;
  const now = house.now();
  const told = [
    ...(await opened(db, now)),
    ...(await dueTomorrow(house, db, now)),
    ...(await forgotten(db, now)),
  ];
  if (told.length) await inTransaction(house.db, (tx) => tell(house, tx, told));
}

type Told = { readonly to: PersonId; readonly what: ToTell };

async function opened(db: Db, now: number): Promise<Told[]> {
  const rows = await pick(
    given(db)
      .where('a.opensAt <= :now AND a.opensAt > :since', {
        now: new Date(now),
        since: new Date(now - 2 * DAY),
      })
      .andWhere(notTold(`CONCAT('set:', a.id)`))
      .limit(2000),
    {
      to: col('m.personId', as.id<PersonId>()),
      copyId: col('c.id', as.id<CopyId>()),
      assignmentId: col('a.id', as.id<AssignmentId>()),
      due: col('COALESCE(c.due_at, a.due_at)', as.maybe(as.moment)),
    },
  );
  return rows.map(({ to, ...about }) => ({
    to,
    what: { ...about, kind: 'set', once: `set:${about.assignmentId}` },
  }));
}

async function dueTomorrow(house: House, db: Db, now: number): Promise<Told[]> {
  const { timeZone } = house.settings.school;
  const day = (at: number) => wallTime(at, timeZone).slice(0, 10);
  if (now < momentAt(`${day(now)}T${EVE}`, timeZone)!) return [];
  // Two days from noon to noon hold all of tomorrow, whatever the clocks do.
  const noon = momentAt(`${day(now)}T12:00`, timeZone)!;
  const tomorrow = day(noon + DAY);
  const from = momentAt(`${tomorrow}T00:00`, timeZone)!;
  const to = momentAt(`${day(noon + 2 * DAY)}T00:00`, timeZone)!;
  const rows = await pick(
    given(db)
      .leftJoin(HandInTable.table, 'h', 'h.copyId = c.id')
      .where('a.opensAt <= :now AND c.excused = 0 AND h.id IS NULL', { now: new Date(now) })
      .andWhere('COALESCE(c.due_at, a.due_at) >= :from AND COALESCE(c.due_at, a.due_at) < :to', {
        from: new Date(from),
        to: new Date(to),
      })
      .andWhere(notTold(`CONCAT('due:', c.id, ':${tomorrow}')`))
      .limit(2000),
    {
      to: col('m.personId', as.id<PersonId>()),
      copyId: col('c.id', as.id<CopyId>()),
      assignmentId: col('a.id', as.id<AssignmentId>()),
      due: col('COALESCE(c.due_at, a.due_at)', as.maybe(as.moment)),
    },
  );
  return rows.map(({ to, ...about }) => ({
    to,
    what: { ...about, kind: 'due-tomorrow', once: `due:${about.copyId}:${tomorrow}` },
  }));
}

/** Each teacher once a week for each pile. */
async function forgotten(db: Db, now: number): Promise<Told[]> {
  const week = Math.floor(now / (7 * DAY));
  const rows = await pick(
    db
      .createQueryBuilder(MarkingTable, 'k')
      .innerJoin('k.copy', 'c')
      .innerJoin(AssignmentTable.table, 'a', 'a.id = c.assignmentId AND a.putAwayAt IS NULL')
      .innerJoin(
        MembershipTable.table,
        'm',
        `m.classId = a.classId AND m.role = 'teacher' AND m.leftAt IS NULL`,
      )
      .where('k.done = 1 AND k.doneAt < :long', { long: new Date(now - FORGOTTEN_MS) })
      .andWhere(
        `NOT EXISTS (SELECT 1 FROM ${HandBackTable.options.name} b WHERE b.copy_id = k.copy_id AND b.hand_in_id <=> k.hand_in_id AND b.round > 0 AND b.goes_on = 0)`,
      )
      .andWhere('k.number = (SELECT COALESCE(MAX(x.number), 0) FROM hand_in x WHERE x.copy_id = c.id)')
      .andWhere(
        `NOT EXISTS (SELECT 1 FROM hand_back_order o WHERE o.assignment_id = a.id AND o.state = 'waits')`,
      )
      .andWhere(notTold(`CONCAT('forgotten:', a.id, ':${week}')`))
      .groupBy('a.id')
      .addGroupBy('m.personId')
      .limit(500),
    {
      to: col('m.personId', as.id<PersonId>()),
      assignmentId: col('a.id', as.id<AssignmentId>()),
      count: col('COUNT(*)', as.int),
    },
  );
  return rows.map(({ to, assignmentId, count }) => ({
    to,
    what: { kind: 'forgotten', assignmentId, copyId: null, count, once: `forgotten:${assignmentId}:${week}` },
  }));
}
