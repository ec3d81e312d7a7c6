import { randomBytes } from 'node:crypto';
import {
  type ClassId,
  type ConsentId,
  fullName,
  type JoinCode,
  joinCodeOf,
  type Person,
  type PersonId,
} from '@jotmark/core';
import {
  ClassTable,
  ConsentTable,
  JoinCodeTable,
  MembershipTable,
  PersonTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, insertOrUpdate, lock, remove } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { tell } from '../news/tell.ts';
import { countJoin } from '../people/limits.ts';

export const joinCodeFor = async (db: Db, classId: ClassId): Promise<JoinCode | null> =>
  (await find(db, JoinCodeTable, { classId }))?.code ?? null;

/** Gives a class a code to ask by, a new one each time, or takes it away. Who asked already still waits. */
export async function setJoinCode(house: House, classId: ClassId, on: boolean): Promise<JoinCode | null> {
  const db = house.db.manager;
  if (!on) {
    await remove(db, JoinCodeTable, { classId });
    return null;
  }
  for (;;) {
    const code = joinCodeOf(randomBytes(6));
    await insertOrUpdate(db, JoinCodeTable, { classId, code, madeAt: house.now() }, ['code', 'madeAt']);
    // One that another class has is not this one's: then another is made.
    if ((await joinCodeFor(db, classId)) === code) return code;
  }
}

/**
 * A student asks to be let into the class that has this code; its teachers hear of it and answer as they answer each other, see `consent.ts`. Asked twice it is one
 * question. Throws `no-such-code`, and `too-much-at-once` for who tries many.
 */
export async function askToJoin(
  house: House,
  student: Person,
  code: JoinCode,
): Promise<{ className: string; state: 'asked' | 'here' }> {
  await countJoin(house, student);
  return inTransaction(house.db, async (tx) => {
    const known = await pickOne(
      tx
        .createQueryBuilder(JoinCodeTable, 'j')
        .innerJoin(ClassTable.table, 'k', 'k.id = j.classId AND k.archivedAt IS NULL')
        .where('j.code = :code', { code }),
      { classId: col('k.id', as.id<ClassId>()), name: col('k.name', as.text) },
    );
    if (!known) throw new Fault('no-such-code');
    const { classId, name: className } = known;
    const personId = student.id;
    // The person's row is the lock: two questions at once are one.
    await lock(tx, PersonTable, { id: personId });
    const member = await find(tx, MembershipTable, { classId, personId });
    if (member && member.leftAt === null) return { className, state: 'here' };
    const open = await tx
      .createQueryBuilder(ConsentTable, 'q')
      .where('q.classId = :classId AND q.personId = :personId AND q.askedById = :personId', {
        classId,
        personId,
      })
      .andWhere('q.answeredAt IS NULL')
      .getCount();
    if (open) return { className, state: 'asked' };
    await insert(tx, ConsentTable, {
      id: newId<ConsentId>(house),
      classId,
      personId,
      askedById: personId,
      askedAt: house.now(),
      answeredById: null,
      answeredAt: null,
      granted: null,
    });
    const teachers = await tx
      .getRepository(MembershipTable)
      .find({ where: { classId, role: 'teacher' as const } });
    await tell(
      house,
      tx,
      teachers
        .filter((t) => t.leftAt === null)
        .map(({ personId: to }: { personId: PersonId }) => ({
          to,
          what: {
            kind: 'join-asked',
            assignmentId: null,
            copyId: null,
            byId: personId,
            words: `${fullName(student)}, for ${className}`,
          },
        })),
    );
    return { className, state: 'asked' };
  });
}
