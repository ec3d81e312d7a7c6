import { type CopyId, fullName, type Person, type PhraseId, type PhraseUse } from '@jotmark/core';
import { HandBackTable, MembershipTable, PhraseUseTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import type { House } from '../house.ts';
import { nameFor, studentsOf } from '../people/students.ts';

/** So many uses are shown, the newest first. */
const MOST = 100;

/** Uses `u` of a phrase in copies `c` whose class this teacher teaches still. */
export const usesOf = (db: Db, owner: Person, id: PhraseId) =>
  db
    .createQueryBuilder(PhraseUseTable, 'u')
    .innerJoin('u.handIn', 'h')
    .innerJoin('h.copy', 'c')
    .innerJoin('c.assignment', 'a')
    .innerJoin('a.class', 'k')
    .innerJoin(
      MembershipTable.table,
      't',
      `t.classId = a.classId AND t.role = 'teacher' AND t.personId = :me AND t.leftAt IS NULL`,
      { me: owner.id },
    )
    .leftJoin(HandBackTable.table, 'b', 'b.handInId = h.id')
    .where('u.phraseId = :id', { id });

/** Where a phrase was put into copies, each copy once. */
export async function phraseUses(house: House, owner: Person, id: PhraseId): Promise<PhraseUse[]> {
  const db = house.db.manager;
  const rows = await pick(usesOf(db, owner, id).groupBy('c.id').orderBy('MAX(u.at)', 'DESC').limit(MOST), {
    copyId: col('c.id', as.id<CopyId>()),
    title: col('a.title', as.text),
    className: col('k.name', as.text),
    at: col('MAX(u.at)', as.moment),
    back: col('MAX(b.id IS NOT NULL)', as.flag),
  });
  const students = await studentsOf(
    db,
    rows.map((r) => r.copyId),
  );
  return rows.map((row) => ({ ...row, student: fullName(nameFor(owner, students.get(row.copyId)!)) }));
}
