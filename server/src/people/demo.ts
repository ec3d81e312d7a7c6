import { Role, type Session } from '@jotmark/core';
import { CopyMemberTable, HandBackTable, PersonTable } from '../database/entities/index.ts';
import { as, col, pick } from '../database/pick.ts';
import type { House } from '../house.ts';

/** Everybody in the demo school signs in with this. Real schools never have it: it works only where the school's code made the people. */
export const DEMO_PASSWORD = 'hollin-island';

/** The people the sign-in page offers in demo mode: the teachers, and a few students. */
export async function demoPeople(house: House): Promise<Session['demo']> {
  if (!house.settings.demo) return null;
  const rows = await pick(
    house.db.manager
      .createQueryBuilder(PersonTable, 'p')
      .leftJoin(CopyMemberTable.table, 'm', 'm.personId = p.id')
      .leftJoin(HandBackTable.table, 'b', 'b.copyId = m.copyId')
      .groupBy('p.id')
      .orderBy('p.role', 'DESC')
      .addOrderBy('p.family')
      .addOrderBy('p.given'),
    {
      login: col('p.login', as.text),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      role: col('p.role', as.oneOf(Role.options)),
      back: col('COUNT(b.id)', as.int),
    },
  );
  const offer = (r: (typeof rows)[number]) => ({
    name: `${r.given} ${r.family}`,
    about: r.role !== 'student' ? r.role : r.back > 0 ? 'has marked work' : 'student',
    login: r.login,
    password: DEMO_PASSWORD,
    role: r.role,
  });
  const students = rows.filter((r) => r.role === 'student');
  return [
    ...rows.filter((r) => r.role === 'teacher'),
    ...students.slice(0, 3),
    ...students.slice(-1),
    ...rows.filter((r) => r.role === 'administrator'),
  ].map(offer);
}
