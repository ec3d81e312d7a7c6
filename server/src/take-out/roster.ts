import { type ClassId, type RosterClass, wallTime } from '@jotmark/core';
import { MembershipTable } from '../database/entities/index.ts';
import { as, col, pick } from '../database/pick.ts';
import type { House } from '../house.ts';
import { readMarkBook } from '../mark-book/mark-book.ts';

/** A class with its teachers, its students and its grades, as it goes into a register's exchange files. What is blind tells no grade. */
export async function rosterOf(house: House, classId: ClassId): Promise<RosterClass> {
  const db = house.db.manager;
  const book = await readMarkBook(house, classId);
  const people = await pick(
    db
      .createQueryBuilder(MembershipTable, 'm')
      .innerJoin('m.person', 'p')
      .where('m.classId = :classId AND m.leftAt IS NULL', { classId })
      .orderBy('p.family')
      .addOrderBy('p.given'),
    {
      id: col('p.id', as.text),
      role: col('m.role', as.text),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      login: col('p.login', as.text),
    },
  );
  const { timeZone, name: school } = house.settings.school;
  const day = (at: number) => wallTime(at, timeZone).slice(0, 10);
  return {
    classId,
    className: book.className,
    school,
    teachers: people.filter((p) => p.role === 'teacher'),
    students: people.filter((p) => p.role === 'student'),
    book,
    year: yearOf(book.rule.terms, day, house.now()),
    day,
  };
}

/** The school year: what the terms say, else from August to July round today. */
function yearOf(
  terms: readonly { readonly from: number; readonly to: number }[],
  day: (at: number) => string,
  now: number,
): RosterClass['year'] {
  if (terms.length)
    return {
      from: day(Math.min(...terms.map((t) => t.from))),
      to: day(Math.max(...terms.map((t) => t.to)) - 1),
    };
  const [year, month] = day(now).split('-').map(Number) as [number, number];
  const first = month >= 8 ? year : year - 1;
  return { from: `${first}-08-01`, to: `${first + 1}-07-31` };
}
