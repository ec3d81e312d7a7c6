import {
  type ClassHead,
  type ClassId,
  type Credentials,
  type Known,
  loginFor,
  loginsFor,
  type Person,
  type PersonId,
  planRoster,
  type Register,
  Role,
  type RosterPlan,
  readRoster,
} from '@jotmark/core';
import { In, Like, Not } from 'typeorm';
import { handOutTo } from '../assignment/hand-out.ts';
import { UNTOUCHED } from '../assignment/untouched.ts';
import { ClassTable, MembershipTable, PersonTable, SessionTable } from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne } from '../database/pick.ts';
import { codeOf, inTransaction } from '../database/transaction.ts';
import { find, insert, insertNew, insertOrUpdate, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { mayEnrol, mustReset } from '../people/access.ts';
import { tryOwnPassword } from '../people/attempts.ts';
import { troubleWith } from '../people/good-password.ts';
import { hashPassword, passwordFits } from '../people/password.ts';
import { NEW_ACCOUNT } from '../people/person.ts';
import type { SignedIn } from '../people/session.ts';
import { joinCodeFor } from './join.ts';
import { firstPassword } from './passwords.ts';

const HEAD = {
  id: col('k.id', as.id<ClassId>()),
  name: col('k.name', as.text),
  unit: col('k.unit', as.text),
  students: col(
    `(SELECT COUNT(*) FROM membership s WHERE s.class_id = k.id AND s.role = 'student' AND s.left_at IS NULL)`,
    as.int,
  ),
  archived: col('k.archivedAt IS NOT NULL', as.flag),
  assignments: col(
    `(SELECT COUNT(*) FROM assignment a WHERE a.class_id = k.id AND a.put_away_at IS NULL AND NOT (${UNTOUCHED}))`,
    as.int,
  ),
} as const;

export async function classesOf(house: House, person: Person): Promise<ClassHead[]> {
  return pick(
    house.db.manager
      .createQueryBuilder(ClassTable, 'k')
      .innerJoin(MembershipTable.table, 'm', `m.classId = k.id AND m.role = 'teacher' AND m.personId = :me`, {
        me: person.id,
      })
      .orderBy('k.name')
      .addOrderBy('k.id'),
    HEAD,
  );
}

/** Puts a class out of the way at the end of a year, or brings it back: its work leaves the lists of its teachers and students, and all of it is kept. */
export async function archiveClass(house: House, id: ClassId, archived: boolean): Promise<void> {
  await update(house.db.manager, ClassTable, { id }, { archivedAt: archived ? house.now() : null });
}

/** Renames a class; its unit is where new assignments begin. */
export async function changeClass(
  house: House,
  id: ClassId,
  about: { name: string; unit: string },
): Promise<void> {
  await update(house.db.manager, ClassTable, { id }, about);
}

export async function readRegister(house: House, classId: ClassId): Promise<Register> {
  const db = house.db.manager;
  const head = await pickOne(
    db.createQueryBuilder(ClassTable, 'k').where('k.id = :classId', { classId }),
    HEAD,
  );
  const people = await pick(
    db
      .createQueryBuilder(MembershipTable, 'm')
      .innerJoin('m.person', 'p')
      .where('m.classId = :classId', { classId })
      .orderBy('p.family')
      .addOrderBy('p.given')
      .addOrderBy('p.id'),
    {
      personId: col('p.id', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      login: col('p.login', as.text),
      role: col('m.role', as.oneOf(Role.options)),
      left: col('m.leftAt IS NOT NULL', as.flag),
    },
  );
  return {
    joinCode: await joinCodeFor(db, classId),
    class: head!,
    students: people.filter((p) => p.role === 'student').map(({ role: _, ...student }) => student),
    teachers: people
      .filter((p) => p.role === 'teacher')
      .map((p) => ({ personId: p.personId, name: `${p.given} ${p.family}`, login: p.login })),
  };
}

/** What a list of names would change. Nothing is changed. */
export async function planStudents(
  house: House,
  teacher: Person,
  classId: ClassId,
  text: string,
): Promise<RosterPlan> {
  const roster = readRoster(text);
  if (!roster.ok) return { trouble: roster.reason, count: roster.count, lines: [] };
  const logins = roster.lines.flatMap((l) => l.login ?? []);
  const lines = planRoster(roster.lines, await knownTo(house.db.manager, teacher, classId, logins));
  // Who is new sees the login they will have, and it can be changed before anything is.
  const fresh = lines.filter((l) => l.outcome === 'new');
  const made = new Map(
    fresh.length === 0
      ? []
      : loginsFor(fresh, await loginsOfSchool(house.db.manager)).map((login, i) => [fresh[i]!.line, login]),
  );
  return {
    trouble: null,
    count: lines.length,
    lines: lines.map(({ problem: _, ...line }) => ({ ...line, login: made.get(line.line) ?? line.login })),
  };
}

async function loginsOfSchool(db: Db): Promise<(login: string) => boolean> {
  const rows = await pick(db.createQueryBuilder(PersonTable, 'p'), { login: col('p.login', as.text) });
  const all = new Set(rows.map((r) => r.login));
  return (login) => all.has(login);
}

/** Everybody of the class, and those of the school with one of these logins. */
async function knownTo(
  db: Db,
  teacher: Person,
  classId: ClassId,
  logins: readonly string[],
): Promise<(Known & { readonly personId: PersonId })[]> {
  const rows = await pick(
    db
      .createQueryBuilder(PersonTable, 'p')
      .leftJoin(MembershipTable.table, 'm', 'm.personId = p.id AND m.classId = :classId', { classId })
      .where('m.personId IS NOT NULL OR p.login IN (:...logins)', { logins: logins.length ? logins : [''] }),
    {
      personId: col('p.id', as.id<PersonId>()),
      login: col('p.login', as.text),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      role: col('p.role', as.oneOf(Role.options)),
      isMember: col('m.personId IS NOT NULL', as.flag),
      left: col('m.leftAt IS NOT NULL', as.flag),
    },
  );
  const taught = await mayEnrol(
    db,
    teacher,
    rows.map((r) => r.personId),
  );
  return rows.map(({ isMember, left, ...who }) => ({
    ...who,
    taught: taught.has(who.personId),
    inClass: !isMember ? 'never' : left ? 'left' : 'here',
  }));
}

interface NewStudent {
  readonly given: string;
  readonly family: string;
  readonly login: string | null;
}

/**
 * Takes students into a class: new ones get an account and a first password, those whom the teacher may take in join or come back
 * with all their work. Each gets a copy of what is set. Sent twice it adds nobody twice.
 */
export async function addStudents(
  house: House,
  teacher: Person,
  classId: ClassId,
  students: readonly NewStudent[],
): Promise<Credentials[]> {
  const lines = students.map((s, i) => ({ ...s, line: i + 1, problem: null, of: null }));
  const logins = students.flatMap((s) => s.login ?? []);
  const known = await knownTo(house.db.manager, teacher, classId, logins);
  const planned = planRoster(lines, known);
  for (const { outcome, why, login } of planned)
    if (outcome === 'wrong')
      throw new Fault(why === 'not-yours' ? 'not-your-student' : 'login-taken', { login: login ?? '' });
  const passwords = planned.map((p) => (p.outcome === 'new' ? firstPassword() : null));
  const hashes = await Promise.all(passwords.map((p) => (p ? hashPassword(p) : null)));
  return inTransaction(house.db, async (tx) => {
    const out: Credentials[] = [];
    for (const [i, line] of planned.entries()) {
      const who = known.find((k) => k.login === line.known);
      const personId = who?.personId ?? newId<PersonId>(house);
      const given = who?.given ?? line.given;
      const family = who?.family ?? line.family;
      const login = who?.login ?? line.login ?? (await freeLogin(tx, given, family));
      if (!who)
        await insert(tx, PersonTable, {
          ...NEW_ACCOUNT,
          id: personId,
          role: 'student',
          login,
          given,
          family,
          passwordHash: hashes[i]!,
          firstPassword: true,
          createdAt: house.now(),
        });
      await insertOrUpdate(tx, MembershipTable, { classId, personId, role: 'student', leftAt: null }, [
        'leftAt',
      ]);
      out.push({ personId, given, family, login, password: who ? null : passwords[i]! });
    }
    await handOutTo(
      house,
      tx,
      classId,
      out.map((o) => o.personId),
    );
    return out;
  }).catch((error: unknown) => {
    if (codeOf(error) === 'ER_DUP_ENTRY') throw new Fault('login-taken');
    throw error;
  });
}

async function freeLogin(tx: Db, given: string, family: string): Promise<string> {
  const wish = loginFor(given, family, () => false);
  const rows = await tx.getRepository(PersonTable).find({ where: { login: Like(`${wish}%`) } });
  const taken = new Set(rows.map((r) => r.login));
  return loginFor(given, family, (login) => taken.has(login));
}

/** A student leaves: no new copies, not in the pile; everything done is kept for when they return. */
export async function removeStudent(house: House, classId: ClassId, personId: PersonId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const student = await lock(tx, MembershipTable, { classId, personId, role: 'student' });
    if (!student) throw new Fault('not-found');
    if (student.leftAt === null)
      await update(tx, MembershipTable, { classId, personId }, { leftAt: house.now() });
  });
}

export async function returnStudent(house: House, classId: ClassId, personId: PersonId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const student = await lock(tx, MembershipTable, { classId, personId, role: 'student' });
    if (!student) throw new Fault('not-found');
    await update(tx, MembershipTable, { classId, personId }, { leftAt: null });
    await handOutTo(house, tx, classId, [personId]);
  });
}

/** New first passwords for students of the class; who was signed in somewhere is signed out, and is told who did it where they sign in next. */
export async function newPasswords(
  house: House,
  by: Person,
  classId: ClassId,
  personIds: readonly PersonId[],
): Promise<Credentials[]> {
  const db = house.db.manager;
  await mustReset(db, classId, personIds);
  const people = await db
    .getRepository(PersonTable)
    .find({ where: { id: In([...personIds]), role: 'student' }, order: { family: 'ASC', given: 'ASC' } });
  const passwords = people.map(() => firstPassword());
  const hashes = await Promise.all(passwords.map(hashPassword));
  await inTransaction(house.db, async (tx) => {
    for (const [i, { id }] of people.entries()) {
      await update(
        tx,
        PersonTable,
        { id },
        {
          passwordHash: hashes[i]!,
          firstPassword: true,
          resetById: by.id,
          resetAt: house.now(),
        },
      );
      await remove(tx, SessionTable, { personId: id });
    }
  });
  return people.map(({ id, given, family, login }, i) => ({
    personId: id,
    given,
    family,
    login,
    password: passwords[i]!,
  }));
}

export async function addTeacher(house: House, classId: ClassId, login: string): Promise<void> {
  const db = house.db.manager;
  const who = await find(db, PersonTable, { login, role: 'teacher' });
  if (!who) throw new Fault('no-such-teacher', { login });
  await insertNew(db, MembershipTable, { classId, personId: who.id, role: 'teacher', leftAt: null });
}

/** The last teacher stays: a class without one could never be opened again. */
export async function removeTeacher(house: House, classId: ClassId, personId: PersonId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const teachers = await tx
      .getRepository(MembershipTable)
      .find({ where: { classId, role: 'teacher' }, lock: { mode: 'pessimistic_write' } });
    if (!teachers.some((t) => t.personId === personId)) throw new Fault('not-found');
    if (teachers.length === 1) throw new Fault('last-teacher');
    await remove(tx, MembershipTable, { classId, personId, role: 'teacher' });
  });
}

/** A person's own new password. Who has just signed in with one from a sheet need not type that again: `old` is null; it may not stay the same. Every other device is signed out. */
export async function changePassword(
  house: House,
  { person, token }: SignedIn,
  old: string | null,
  next: string,
): Promise<void> {
  const db = house.db.manager;
  const row = await find(db, PersonTable, { id: person.id });
  if (!row || (old === null && !row.firstPassword)) throw new Fault('wrong-old-password');
  // Tries are counted: a screen that was left open is no place to guess at what it hides.
  if (old !== null && !(await tryOwnPassword(house, person.id, () => passwordFits(row.passwordHash, old))))
    throw new Fault('wrong-old-password');
  if (await passwordFits(row.passwordHash, next)) throw new Fault('same-password');
  const why = troubleWith(next, row.login);
  if (why) throw new Fault('weak-password', { why });
  const passwordHash = await hashPassword(next);
  await inTransaction(house.db, async (tx) => {
    await update(
      tx,
      PersonTable,
      { id: person.id },
      {
        passwordHash,
        firstPassword: false,
        resetById: null,
        resetAt: null,
      },
    );
    // Whoever else is signed in as them, with the old one, is no more.
    await tx.getRepository(SessionTable).delete({ personId: person.id, token: Not(token) });
  });
}

/** Corrects a student's name or login, everywhere: copies and logs that are frozen keep what stood there. A login that is taken is refused. */
export async function correctStudent(
  house: House,
  classId: ClassId,
  personId: PersonId,
  to: { readonly given: string; readonly family: string; readonly login: string },
): Promise<void> {
  await mustReset(house.db.manager, classId, [personId]);
  await update(house.db.manager, PersonTable, { id: personId, role: 'student' }, to).catch(
    (error: unknown) => {
      if (codeOf(error) === 'ER_DUP_ENTRY') throw new Fault('login-in-use', { login: to.login });
      throw error;
    },
  );
}
