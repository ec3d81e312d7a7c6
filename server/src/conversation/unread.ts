import { type AssignmentId, type CopyId, fullName, type Person, type UnreadLine } from '@jotmark/core';
import {
  CopyMemberTable,
  MembershipTable,
  MessageReadTable,
  MessageTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import type { House } from '../house.ts';
import { nameFor, studentsOf } from '../people/students.ts';

/** Messages `m` that this person has not read, of others. What was only done, a note sorted or a change accepted, asks nobody to read it: it shows at its note. */
const unreadBy = (db: Db, person: Person) =>
  db
    .createQueryBuilder(MessageTable, 'm')
    .leftJoin(MessageReadTable.table, 'r', 'r.copyId = m.copyId AND r.personId = :me', { me: person.id })
    .where(
      `m.byId <> :me AND (r.at IS NULL OR m.at > r.at) AND (m.act IS NULL OR m.words <> '') AND m.withdrawnAt IS NULL`,
    );

const COUNTED = { copyId: col('m.copyId', as.id<CopyId>()), count: col('COUNT(*)', as.int) } as const;

/** How much of the conversation on each of these copies a person has not read. */
export async function unreadCounts(
  db: Db,
  person: Person,
  copyIds: readonly CopyId[],
): Promise<ReadonlyMap<CopyId, number>> {
  if (copyIds.length === 0) return new Map();
  const rows = await pick(
    unreadBy(db, person).andWhere('m.copyId IN (:...copyIds)', { copyIds }).groupBy('m.copyId'),
    COUNTED,
  );
  return new Map(rows.map((r) => [r.copyId, r.count]));
}

/** Conversations in which something is unread, the oldest first. */
export async function unreadOf(house: House, person: Person): Promise<UnreadLine[]> {
  const db = house.db.manager;
  const query = unreadBy(db, person)
    .innerJoin('m.copy', 'c')
    .innerJoin('c.assignment', 'a')
    .innerJoin('a.class', 'k')
    .innerJoin('m.by', 'b')
    .orderBy('m.at')
    .limit(500);
  if (person.role === 'teacher')
    query.innerJoin(
      MembershipTable.table,
      't',
      `t.classId = a.classId AND t.role = 'teacher' AND t.personId = :me`,
    );
  else query.innerJoin(CopyMemberTable.table, 't', 't.copyId = c.id AND t.personId = :me');
  const rows = await pick(query, {
    copyId: col('c.id', as.id<CopyId>()),
    title: col('a.title', as.text),
    className: col('k.name', as.text),
    at: col('m.at', as.moment),
    words: col('m.words', as.text),
    given: col('b.given', as.text),
    family: col('b.family', as.text),
    handedIn: col('EXISTS (SELECT 1 FROM hand_in h WHERE h.copy_id = c.id)', as.flag),
  });
  const students = await studentsOf(db, [...new Set(rows.map((r) => r.copyId))]);
  const lines = new Map<CopyId, UnreadLine>();
  for (const { given, family, ...row } of rows) {
    const before = lines.get(row.copyId);
    // A teacher has it with the student, a student with whoever wrote.
    const who = person.role === 'teacher' ? nameFor(person, students.get(row.copyId)!) : { given, family };
    lines.set(row.copyId, {
      ...row,
      who: fullName(who),
      count: (before?.count ?? 0) + 1,
      at: before?.at ?? row.at,
    });
  }
  return [...lines.values()];
}

/** The same for all copies of an assignment. */
export async function unreadIn(
  db: Db,
  person: Person,
  assignmentId: AssignmentId,
): Promise<ReadonlyMap<CopyId, number>> {
  const rows = await pick(
    unreadBy(db, person)
      .innerJoin('m.copy', 'c')
      .andWhere('c.assignmentId = :assignmentId', { assignmentId })
      .groupBy('m.copyId'),
    COUNTED,
  );
  return new Map(rows.map((r) => [r.copyId, r.count]));
}
