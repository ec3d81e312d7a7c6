import type { Session } from '@jotmark/core';
import type { House } from '../house.ts';

/** Everybody in the demo school signs in with this. Real schools never have it: it works only where the school's code made the people. */
export const DEMO_PASSWORD = 'hollin-island';

/** The people the sign-in page offers in demo mode: the teachers, and a few students. */
export async function demoPeople(house: House): Promise<Session['demo']> {
  if (!house.settings.demo) return null;
  const rows: {
    login: string;
    given: string;
    family: string;
    role: 'teacher' | 'student';
    copies: string;
    back: string;
  }[] = await house.db.query(
    `SELECT p.login, p.given, p.family, p.role,
         (SELECT COUNT(*) FROM copy c WHERE c.student_id = p.id) AS copies,
         (SELECT COUNT(*) FROM hand_back b JOIN copy c ON c.id = b.copy_id WHERE c.student_id = p.id) AS back
       FROM person p ORDER BY p.role DESC, p.family, p.given`,
  );
  const offer = (r: (typeof rows)[number]) => ({
    name: `${r.given} ${r.family}`,
    about: r.role === 'teacher' ? 'teacher' : Number(r.back) > 0 ? 'has marked work' : 'student',
    login: r.login,
    password: DEMO_PASSWORD,
    role: r.role,
  });
  const students = rows.filter((r) => r.role === 'student');
  return [...rows.filter((r) => r.role === 'teacher'), ...students.slice(0, 3), ...students.slice(-1)].map(
    offer,
  );
}
