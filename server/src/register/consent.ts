import {
  type ClassId,
  type Consent,
  type ConsentId,
  fullName,
  type Person,
  type PersonId,
} from '@jotmark/core';
import { handOutTo } from '../assignment/hand-out.ts';
import { ClassTable, ConsentTable, MembershipTable, PersonTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, insertOrUpdate, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { tell } from '../news/tell.ts';

/** So many questions of one teacher may be open at once: more is no teacher who looks for a student. */
const MOST_OPEN = 50;

/**
 * A teacher asks to take in a student whom they do not have. Who has them now hears of it; so do the administrators. Asked twice it is one question. Throws
 * `not-found` where nobody of the school has this login, or who has it is no student.
 */
export async function askConsent(
  house: House,
  teacher: Person,
  classId: ClassId,
  login: string,
): Promise<{ personId: PersonId }> {
  return inTransaction(house.db, async (tx) => {
    const student = await find(tx, PersonTable, { login, role: 'student' });
    if (!student) throw new Fault('not-found');
    const personId = student.id;
    // The person's row is the lock: two questions at once are one.
    await lock(tx, PersonTable, { id: personId });
    const open = await tx
      .getRepository(ConsentTable)
      .createQueryBuilder('q')
      .where('q.askedById = :me AND q.answeredAt IS NULL', { me: teacher.id })
      .getMany();
    if (open.some((q) => q.classId === classId && q.personId === personId)) return { personId };
    if (open.length >= MOST_OPEN) throw new Fault('too-many-asked', { most: MOST_OPEN });
    await insert(tx, ConsentTable, {
      id: newId<ConsentId>(house),
      classId,
      personId,
      askedById: teacher.id,
      askedAt: house.now(),
      answeredById: null,
      answeredAt: null,
      granted: null,
    });
    const { name } = (await find(tx, ClassTable, { id: classId }))!;
    await tell(
      house,
      tx,
      (await teachersOf(tx, personId)).map((to) => ({
        to,
        what: {
          kind: 'asked',
          assignmentId: null,
          copyId: null,
          byId: teacher.id,
          words: `${fullName(student)}, for ${name}`,
        },
      })),
    );
    return { personId };
  });
}

/** The teachers who have a student now. */
async function teachersOf(db: Db, personId: PersonId): Promise<PersonId[]> {
  const rows = await pick(
    db
      .createQueryBuilder(MembershipTable, 's')
      .innerJoin(
        MembershipTable.table,
        't',
        `t.classId = s.classId AND t.role = 'teacher' AND t.leftAt IS NULL`,
      )
      .where(`s.personId = :personId AND s.role = 'student' AND s.leftAt IS NULL`, { personId })
      .groupBy('t.personId'),
    { id: col('t.personId', as.id<PersonId>()) },
  );
  return rows.map((r) => r.id);
}

/** The classes of a teacher, and the students who are in them now. */
const MY_CLASSES = `SELECT t.class_id FROM membership t WHERE t.person_id = :me AND t.role = 'teacher' AND t.left_at IS NULL`;
const MY_STUDENTS = `SELECT s.person_id FROM membership s WHERE s.role = 'student' AND s.left_at IS NULL AND s.class_id IN (${MY_CLASSES})`;

/** What waits for an answer: an administrator sees all of it, a teacher what is about students of theirs and who asks to be let into a class of theirs, everybody what they asked themselves. */
export async function consentsFor(house: House, person: Person): Promise<Consent[]> {
  const open = house.db.manager.createQueryBuilder(ConsentTable, 'q').where('q.answeredAt IS NULL');
  const me = { me: person.id };
  // Of others a student hears nothing.
  if (person.role === 'student') open.andWhere('q.askedById = :me', me);
  if (person.role === 'teacher')
    open.andWhere(
      `(q.askedById = :me OR (q.askedById = q.personId AND q.classId IN (${MY_CLASSES}))
        OR (q.askedById <> q.personId AND q.personId IN (${MY_STUDENTS})))`,
      me,
    );
  const rows = await pick(
    open
      .innerJoin('q.class', 'k')
      .innerJoin('q.person', 'p')
      .innerJoin(PersonTable.table, 'b', 'b.id = q.askedById')
      .orderBy('q.askedAt')
      .limit(500),
    {
      id: col('q.id', as.id<ConsentId>()),
      personId: col('q.personId', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      classId: col('k.id', as.id<ClassId>()),
      className: col('k.name', as.text),
      askedById: col('q.askedById', as.id<PersonId>()),
      byGiven: col('b.given', as.text),
      byFamily: col('b.family', as.text),
      askedAt: col('q.askedAt', as.moment),
    },
  );
  return rows.map((r) => ({
    id: r.id,
    student: fullName(r),
    classId: r.classId,
    className: r.className,
    byStudent: r.askedById === r.personId,
    askedBy: fullName({ given: r.byGiven, family: r.byFamily }),
    askedAt: r.askedAt,
    mine: r.askedById === person.id,
  }));
}

/** Says yes or no. With a yes the student is in the class at once, and has what is set there. The first answer counts. */
export async function answerConsent(
  house: House,
  person: Person,
  id: ConsentId,
  granted: boolean,
): Promise<{ personId: PersonId; classId: ClassId }> {
  return inTransaction(house.db, async (tx) => {
    const row = await lock(tx, ConsentTable, { id });
    if (!row || row.answeredAt !== null) throw new Fault('not-found');
    const { classId, personId, askedById } = row;
    const at = house.now();
    await update(tx, ConsentTable, { id }, { answeredById: person.id, answeredAt: at, granted });
    if (granted) {
      await insertOrUpdate(tx, MembershipTable, { classId, personId, role: 'student', leftAt: null }, [
        'leftAt',
      ]);
      await handOutTo(house, tx, classId, [personId]);
    }
    await tell(house, tx, [
      {
        to: askedById,
        what: {
          ...(askedById === personId
            ? { kind: 'join-answered', words: (await find(tx, ClassTable, { id: classId }))?.name ?? '' }
            : { kind: 'asked-answered', words: fullName((await find(tx, PersonTable, { id: personId }))!) }),
          assignmentId: null,
          copyId: null,
          byId: person.id,
          count: granted ? 1 : 0,
        },
      },
    ]);
    return { personId, classId };
  });
}
