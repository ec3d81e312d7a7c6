import {
  type ClassHead,
  type ClassId,
  type Credentials,
  type Known,
  loginFor,
  type Person,
  type PersonId,
  planRoster,
  type Register,
  type RosterPlan,
  readRoster,
} from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import { handOutTo } from '../assignment/hand-out.ts';
import type { RawRow } from '../database/raw.ts';
import { codeOf, inTransaction } from '../database/transaction.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';
import { hashPassword, passwordFits } from '../people/password.ts';
import { firstPassword } from './passwords.ts';

const HEAD = `k.id, k.name, k.unit,
  (SELECT COUNT(*) FROM membership s WHERE s.class_id = k.id AND s.role = 'student' AND s.left_at IS NULL) AS students,
  (SELECT COUNT(*) FROM assignment a WHERE a.class_id = k.id AND a.put_away_at IS NULL) AS assignments`;

const headOf = (r: RawRow): ClassHead => ({
  id: r.id,
  name: r.name,
  unit: r.unit,
  students: Number(r.students),
  assignments: Number(r.assignments),
});

export async function classesOf(house: House, person: Person): Promise<ClassHead[]> {
  const rows = await house.db.query(
    `SELECT ${HEAD} FROM school_class k JOIN membership m ON m.class_id = k.id AND m.role = 'teacher' AND m.person_id = ? ORDER BY k.name, k.id`,
    [person.id],
  );
  return rows.map(headOf);
}

/** Renames a class; its unit is where new assignments begin. */
export async function changeClass(
  house: House,
  classId: string,
  about: { name: string; unit: string },
): Promise<void> {
  await house.db.query('UPDATE school_class SET name = ?, unit = ? WHERE id = ?', [
    about.name,
    about.unit,
    classId,
  ]);
}

export async function readRegister(house: House, classId: ClassId): Promise<Register> {
  const [head] = await house.db.query(`SELECT ${HEAD} FROM school_class k WHERE k.id = ?`, [classId]);
  const people = await house.db.query(
    `SELECT p.id, p.given, p.family, p.login, m.role, m.left_at FROM membership m JOIN person p ON p.id = m.person_id
     WHERE m.class_id = ? ORDER BY p.family, p.given, p.id`,
    [classId],
  );
  return {
    class: headOf(head),
    students: people
      .filter((p: RawRow) => p.role === 'student')
      .map((p: RawRow) => ({
        personId: p.id,
        given: p.given,
        family: p.family,
        login: p.login,
        left: p.left_at !== null,
      })),
    teachers: people
      .filter((p: RawRow) => p.role === 'teacher')
      .map((p: RawRow) => ({ personId: p.id, name: `${p.given} ${p.family}`, login: p.login })),
  };
}

/** What a list of names would change. Nothing is changed. */
export async function planStudents(house: House, classId: ClassId, text: string): Promise<RosterPlan> {
  const roster = readRoster(text);
  if (!roster.ok) return { trouble: roster.reason, count: roster.count, lines: [] };
  const logins = roster.lines.flatMap((l) => l.login ?? []);
  const lines = planRoster(roster.lines, await knownTo(house.db, classId, logins));
  return {
    trouble: null,
    count: lines.length,
    lines: lines.map(({ problem: _, ...line }) => line),
  };
}

/** Everybody of the class, and those of the school with one of these logins. */
async function knownTo(
  db: Pick<EntityManager, 'query'>,
  classId: string,
  logins: readonly string[],
): Promise<(Known & { readonly personId: PersonId })[]> {
  const rows: RawRow[] = await db.query(
    `SELECT p.id, p.login, p.given, p.family, p.role, m.person_id, m.left_at FROM person p
       LEFT JOIN membership m ON m.person_id = p.id AND m.class_id = ? WHERE m.person_id IS NOT NULL OR p.login IN (?)`,
    [classId, logins.length ? logins : ['']],
  );
  return rows.map((r) => ({
    personId: r.id,
    login: r.login,
    given: r.given,
    family: r.family,
    role: r.role,
    inClass: r.person_id === null ? 'never' : r.left_at === null ? 'here' : 'left',
  }));
}

interface NewStudent {
  readonly given: string;
  readonly family: string;
  readonly login: string | null;
}

/**
 * Takes students into a class: new ones get an account and a first password, those whom the school knows join or come back
 * with all their work. Each gets a copy of what is set. Sent twice it adds nobody twice.
 */
export async function addStudents(
  house: House,
  classId: ClassId,
  students: readonly NewStudent[],
): Promise<Credentials[]> {
  const lines = students.map((s, i) => ({ ...s, line: i + 1, problem: null, of: null }));
  const known = await knownTo(
    house.db,
    classId,
    students.flatMap((s) => s.login ?? []),
  );
  const planned = planRoster(lines, known);
  const passwords = planned.map((p) => (p.outcome === 'new' ? firstPassword() : null));
  const hashes = await Promise.all(passwords.map((p) => (p ? hashPassword(p) : null)));
  return inTransaction(house.db, async (tx) => {
    const out: Credentials[] = [];
    for (const [i, line] of planned.entries()) {
      if (line.outcome === 'wrong') throw new Fault('login-taken', { login: line.login ?? '' });
      const who = known.find((k) => k.login === line.known);
      const personId = who?.personId ?? newId<PersonId>(house);
      const login = who?.login ?? line.login ?? (await freeLogin(tx, line.given, line.family));
      if (!who)
        await tx.query(
          `INSERT INTO person (id, role, login, given, family, password_hash, created_at) VALUES (?, 'student', ?, ?, ?, ?, ?)`,
          [personId, login, line.given, line.family, hashes[i], new Date(house.now())],
        );
      await tx.query(
        `INSERT INTO membership (class_id, person_id, role) VALUES (?, ?, 'student') ON DUPLICATE KEY UPDATE left_at = NULL`,
        [classId, personId],
      );
      out.push({
        personId,
        given: who?.given ?? line.given,
        family: who?.family ?? line.family,
        login,
        password: who ? null : passwords[i]!,
      });
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

async function freeLogin(tx: EntityManager, given: string, family: string): Promise<string> {
  const wish = loginFor(given, family, () => false);
  const rows: { login: string }[] = await tx.query('SELECT login FROM person WHERE login LIKE ?', [
    `${wish}%`,
  ]);
  const taken = new Set(rows.map((r) => r.login));
  return loginFor(given, family, (login) => taken.has(login));
}

/** A student leaves: no new copies, not in the pile; everything done is kept for when they return. */
export async function removeStudent(house: House, classId: string, personId: string): Promise<void> {
  const done = await house.db.query(
    `UPDATE membership SET left_at = COALESCE(left_at, ?) WHERE class_id = ? AND person_id = ? AND role = 'student'`,
    [new Date(house.now()), classId, personId],
  );
  if (done.affectedRows === 0) throw new Fault('not-found');
}

export async function returnStudent(house: House, classId: ClassId, personId: PersonId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const done = await tx.query(
      `UPDATE membership SET left_at = NULL WHERE class_id = ? AND person_id = ? AND role = 'student'`,
      [classId, personId],
    );
    if (done.affectedRows === 0) throw new Fault('not-found');
    await handOutTo(house, tx, classId, [personId]);
  });
}

/** New first passwords for students of the class; who was signed in somewhere is signed out. */
export async function newPasswords(
  house: House,
  classId: string,
  personIds: readonly PersonId[],
): Promise<Credentials[]> {
  const people: RawRow[] = await house.db.query(
    `SELECT p.id, p.given, p.family, p.login FROM membership m JOIN person p ON p.id = m.person_id
     WHERE m.class_id = ? AND m.role = 'student' AND p.role = 'student' AND p.id IN (?) ORDER BY p.family, p.given`,
    [classId, personIds],
  );
  if (people.length < new Set(personIds).size) throw new Fault('not-found');
  const passwords = people.map(() => firstPassword());
  const hashes = await Promise.all(passwords.map(hashPassword));
  await inTransaction(house.db, async (tx) => {
    for (const [i, p] of people.entries()) {
      await tx.query('UPDATE person SET password_hash = ? WHERE id = ?', [hashes[i], p.id]);
      await tx.query('DELETE FROM session WHERE person_id = ?', [p.id]);
    }
  });
  return people.map((p, i) => ({
    personId: p.id,
    given: p.given,
    family: p.family,
    login: p.login,
    password: passwords[i]!,
  }));
}

export async function addTeacher(house: House, classId: string, login: string): Promise<void> {
  const [who] = await house.db.query(`SELECT id FROM person WHERE login = ? AND role = 'teacher'`, [login]);
  if (!who) throw new Fault('no-such-teacher', { login });
  await house.db.query(`INSERT IGNORE INTO membership (class_id, person_id, role) VALUES (?, ?, 'teacher')`, [
    classId,
    who.id,
  ]);
}

/** The last teacher stays: a class without one could never be opened again. */
export async function removeTeacher(house: House, classId: string, personId: string): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const rows: { person_id: string }[] = await tx.query(
      `SELECT person_id FROM membership WHERE class_id = ? AND role = 'teacher' FOR UPDATE`,
      [classId],
    );
    if (!rows.some((r) => r.person_id === personId)) throw new Fault('not-found');
    if (rows.length === 1) throw new Fault('last-teacher');
    await tx.query(`DELETE FROM membership WHERE class_id = ? AND person_id = ? AND role = 'teacher'`, [
      classId,
      personId,
    ]);
  });
}

/** A person's own new password. */
export async function changePassword(house: House, person: Person, old: string, next: string): Promise<void> {
  const [row] = await house.db.query('SELECT password_hash FROM person WHERE id = ?', [person.id]);
  if (!(await passwordFits(row.password_hash, old))) throw new Fault('wrong-old-password');
  await house.db.query('UPDATE person SET password_hash = ? WHERE id = ?', [
    await hashPassword(next),
    person.id,
  ]);
}
