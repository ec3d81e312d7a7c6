import {
  type ClassId,
  type ClassLook,
  classLook,
  compareNames,
  type FeedbackLog,
  type LastWords,
  type LogEntry,
  type Person,
  type PersonId,
} from '@jotmark/core';
import { In, IsNull } from 'typeorm';
import {
  ClassTable,
  MembershipTable,
  PersonTable,
  RemarkAnswerTable,
  RemarkTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { backsIn, backsOf } from './backs.ts';
import { heldOf } from './held.ts';
import { remarksTo } from './remarks.ts';

const byTime = (entries: LogEntry[]): LogEntry[] => entries.sort((a, b) => a.at - b.at);

/** Who is or was in a class as a student; throws `not-found` for anybody else. */
async function inClass(db: Db, classId: ClassId, personId: PersonId) {
  const there = await find(db, MembershipTable, { classId, personId, role: 'student' });
  const person = there && (await find(db, PersonTable, { id: personId }));
  const row = person && (await find(db, ClassTable, { id: classId }));
  if (!row) throw new Fault('not-found');
  return {
    classId,
    className: row.name,
    student: { id: person.id, given: person.given, family: person.family },
  };
}

/** All that a student of a class was told, for one of its teachers; what is still held is told as such. */
export async function readLog(
  house: House,
  person: Person,
  classId: ClassId,
  personId: PersonId,
): Promise<FeedbackLog> {
  const db = house.db.manager;
  const head = await inClass(db, classId, personId);
  const entries = byTime([
    ...(await backsOf(db, classId, personId, false)),
    ...(await heldOf(db, classId, personId)),
    ...(await remarksTo(db, classId, personId, person.id)),
  ]);
  return { ...head, entries };
}

/** The same as somebody opens it: answers to remarks of theirs count as seen. */
export async function feedbackLog(
  house: House,
  person: Person,
  classId: ClassId,
  personId: PersonId,
): Promise<FeedbackLog> {
  const log = await readLog(house, person, classId, personId);
  await sawAnswers(house, person, classId, personId);
  return log;
}

async function sawAnswers(house: House, person: Person, classId: ClassId, personId: PersonId): Promise<void> {
  const db = house.db.manager;
  const mine = await db.getRepository(RemarkTable).find({ where: { classId, byId: person.id } });
  if (mine.length)
    await db
      .getRepository(RemarkAnswerTable)
      .update({ personId, seenAt: IsNull(), remarkId: In(mine.map((r) => r.id)) }, { seenAt: house.now() });
}

/** What went back to a student in a class, and what was said to them: all that they, or who they show it to, may read. */
export async function logFor(db: Db, classId: ClassId, personId: PersonId): Promise<FeedbackLog> {
  const head = await inClass(db, classId, personId);
  return {
    ...head,
    entries: byTime([
      ...(await backsOf(db, classId, personId, true)),
      ...(await remarksTo(db, classId, personId, personId)),
    ]),
  };
}

/** A student's own, class by class. */
export async function ownLogs(house: House, person: Person): Promise<FeedbackLog[]> {
  const db = house.db.manager;
  const classes = await db
    .getRepository(MembershipTable)
    .find({ where: { personId: person.id, role: 'student' } });
  const logs: FeedbackLog[] = [];
  for (const { classId } of classes) logs.push(await logFor(db, classId, person.id));
  return logs.sort((a, b) => compareNames(a.className, b.className));
}

/** When each student of a class last heard anything, and who has answered: by it one sees who was forgotten. */
export async function lastWords(house: House, person: Person, classId: ClassId): Promise<LastWords> {
  const db = house.db.manager;
  const row = await find(db, ClassTable, { id: classId });
  if (!row) throw new Fault('not-found');
  const heard = (mine: string) =>
    `NULLIF(GREATEST(
       COALESCE((SELECT MAX(b.handed_back_at) FROM hand_back b JOIN copy_member cm ON cm.copy_id = b.copy_id JOIN assignment a ON a.id = cm.assignment_id
         WHERE cm.person_id = p.id AND a.class_id = ms.class_id AND a.trial_of IS NULL${mine && ` AND b.by_id ${mine}`}), CAST('1970-01-01' AS DATETIME(3))),
       COALESCE((SELECT MAX(r.made_at) FROM remark r JOIN remark_student s ON s.remark_id = r.id
         WHERE s.person_id = p.id AND r.class_id = ms.class_id${mine && ` AND r.by_id ${mine}`}), CAST('1970-01-01' AS DATETIME(3)))), CAST('1970-01-01' AS DATETIME(3)))`;
  const students = await pick(
    db
      .createQueryBuilder(MembershipTable, 'ms')
      .innerJoin('ms.person', 'p')
      .where(`ms.classId = :classId AND ms.role = 'student' AND ms.leftAt IS NULL`, { classId })
      .setParameter('me', person.id),
    {
      id: col('p.id', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      lastAt: col(heard(''), as.maybe(as.moment)),
      lastByMe: col(heard('= :me'), as.maybe(as.moment)),
    },
  );
  const waiting = await pick(
    db
      .createQueryBuilder(RemarkAnswerTable, 'w')
      .innerJoin('w.remark', 'r', 'r.classId = :classId AND r.byId = :me', { classId, me: person.id })
      .where('w.seenAt IS NULL AND w.byId = w.personId')
      .groupBy('w.personId'),
    { id: col('w.personId', as.id<PersonId>()), count: col('COUNT(*)', as.int) },
  );
  const answered = new Map(waiting.map((w) => [w.id, w.count]));
  return {
    className: row.name,
    students: students
      .map((s) => ({ ...s, answered: answered.get(s.id) ?? 0 }))
      .sort(
        (a, b) =>
          compareNames(a.family, b.family) || compareNames(a.given, b.given) || (a.id < b.id ? -1 : 1),
      ),
  };
}

/** What was said to a class over its work: of all who are in it now. */
export async function readClassLook(house: House, classId: ClassId): Promise<ClassLook> {
  const db = house.db.manager;
  const row = await find(db, ClassTable, { id: classId });
  if (!row) throw new Fault('not-found');
  const students = await pick(
    db
      .createQueryBuilder(MembershipTable, 'ms')
      .innerJoin('ms.person', 'p')
      .where(`ms.classId = :classId AND ms.role = 'student' AND ms.leftAt IS NULL`, { classId }),
    { id: col('p.id', as.id<PersonId>()), given: col('p.given', as.text), family: col('p.family', as.text) },
  );
  const backs = await backsIn(db, classId);
  return classLook(
    row.name,
    students.map((student) => ({
      classId,
      className: row.name,
      student,
      entries: backs.get(student.id) ?? [],
    })),
  );
}
