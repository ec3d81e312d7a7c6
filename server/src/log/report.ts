import { type ClassId, fullName, type Person, type PersonId, type Report } from '@jotmark/core';
import { MembershipTable, PersonTable, ReportTable } from '../database/entities/index.ts';
import { as, col, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insertOrUpdate, lock } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/** The reports about a student of a class, term by term. */
export async function reportsOf(house: House, classId: ClassId, personId: PersonId): Promise<Report[]> {
  const db = house.db.manager;
  if (!(await find(db, MembershipTable, { classId, personId, role: 'student' })))
    throw new Fault('not-found');
  const rows = await pick(
    db
      .createQueryBuilder(ReportTable, 'r')
      .leftJoin(PersonTable.table, 'p', 'p.id = r.byId')
      .where('r.classId = :classId AND r.personId = :personId', { classId, personId })
      .orderBy('r.changedAt'),
    {
      term: col('r.term', as.text),
      words: col('r.words', as.text),
      changedAt: col('r.changedAt', as.moment),
      given: col('p.given', as.maybe(as.text)),
      family: col('p.family', as.maybe(as.text)),
    },
  );
  return rows.map(({ given, family, ...r }) => ({
    ...r,
    by: fullName({ given: given ?? '', family: family ?? '' }),
  }));
}

/** Keeps what was written, where nobody wrote in between; else throws `changed-elsewhere` and keeps what stands. */
export async function saveReport(
  house: House,
  person: Person,
  classId: ClassId,
  personId: PersonId,
  { term, words, base }: { readonly term: string; readonly words: string; readonly base: number },
): Promise<Report> {
  return inTransaction(house.db, async (tx) => {
    // The membership is there from the beginning: whoever holds it writes alone.
    if (!(await lock(tx, MembershipTable, { classId, personId }))) throw new Fault('not-found');
    const stands = await find(tx, ReportTable, { classId, personId, term });
    if ((stands?.changedAt ?? 0) !== base) throw new Fault('changed-elsewhere');
    const changedAt = Math.max(house.now(), base + 1);
    await insertOrUpdate(tx, ReportTable, { classId, personId, term, words, changedAt, byId: person.id }, [
      'words',
      'changedAt',
      'byId',
    ]);
    return { term, words, changedAt, by: fullName(person) };
  });
}
