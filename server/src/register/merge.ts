import type { CopyId, Merge, PersonId } from '@jotmark/core';
import { Like } from 'typeorm';
import { deleteDeep } from '../database/delete-deep.ts';
import {
  AssignmentTable,
  AttemptTable,
  CopyMemberTable,
  MembershipTable,
  PersonTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

/**
 * Two accounts of one student become one: all that is of `gone` is of `keep` then, and `gone` is no more. Where both have a copy of the same work and something
 * is in both, nothing is done: it is told which work. With `look` it is only told what would happen.
 */
export async function mergePeople(
  house: House,
  keep: PersonId,
  gone: PersonId,
  look: boolean,
): Promise<Merge> {
  if (keep === gone) throw new Fault('bad-input', { what: 'gone' });
  return inTransaction(house.db, async (tx) => {
    // In one order, so that two who merge the same pair the other way round wait for each other.
    for (const id of [keep, gone].sort()) {
      const row = await lock(tx, PersonTable, { id });
      if (row?.role !== 'student') throw new Fault('not-found');
    }
    const doubles = await doublesOf(tx, keep, gone);
    const merge: Merge = {
      bothHave: doubles.filter((d) => !d.empty).map((d) => d.title),
      copies: await tx.getRepository(CopyMemberTable).count({ where: { personId: gone } }),
      classes: await tx.getRepository(MembershipTable).count({ where: { personId: gone } }),
    };
    if (look) return merge;
    if (merge.bothHave.length)
      throw new Fault('not-to-merge', { titles: merge.bothHave.join(', ').slice(0, 500) });
    await deleteDeep(
      tx,
      'copy',
      doubles.flatMap((d) => d.empty ?? []),
    );
    await stayInClasses(tx, keep, gone);
    await moveRows(tx, keep, gone);
    await moveLists(tx, keep, gone);
    // What was counted of them: tries, uploads, messages.
    await tx.getRepository(AttemptTable).delete({ name: Like(`%${gone}%`) });
    await remove(tx, PersonTable, { id: gone });
    return merge;
  });
}

interface Double {
  readonly title: string;
  /** The copy of the two that has nothing in it; null: both have something. */
  readonly empty: CopyId | null;
}

/** Work of which both have a copy. */
async function doublesOf(tx: Db, keep: PersonId, gone: PersonId): Promise<Double[]> {
  const rows = await pick(
    tx
      .createQueryBuilder(CopyMemberTable, 'a')
      .innerJoin(CopyMemberTable.table, 'b', 'b.assignmentId = a.assignmentId AND b.personId = :gone', {
        gone,
      })
      .innerJoin(AssignmentTable.table, 'w', 'w.id = a.assignmentId')
      .where('a.personId = :keep', { keep }),
    {
      title: col('w.title', as.text),
      kept: col('a.copyId', as.id<CopyId>()),
      other: col('b.copyId', as.id<CopyId>()),
    },
  );
  const out: Double[] = [];
  for (const { title, kept, other } of rows) {
    const empty = (await isEmpty(tx, other)) ? other : (await isEmpty(tx, kept)) ? kept : null;
    out.push({ title, empty });
  }
  return out;
}

/** Whether nothing came of a copy yet: no other has it, and nothing hangs on it but its sheets. */
async function isEmpty(tx: Db, copyId: CopyId): Promise<boolean> {
  if ((await tx.getRepository(CopyMemberTable).count({ where: { copyId } })) !== 1) return false;
  const tables = await tx
    .createQueryBuilder()
    .select('k.TABLE_NAME', 'name')
    .from('information_schema.KEY_COLUMN_USAGE', 'k')
    .where(
      `k.TABLE_SCHEMA = DATABASE() AND k.REFERENCED_TABLE_NAME = 'copy' AND k.COLUMN_NAME = 'copy_id' AND k.TABLE_NAME NOT IN ('copy_member', 'copy_sheet')`,
    )
    .getRawMany<{ name: string }>();
  for (const { name } of tables) {
    const there = await tx
      .createQueryBuilder()
      .select('1', 'n')
      .from(name, 'x')
      .where('x.copy_id = :copyId', { copyId })
      .limit(1)
      .getRawOne<{ n: number }>();
    if (there) return false;
  }
  return true;
}

/** Where one of the two still is, the one that is left is. */
async function stayInClasses(tx: Db, keep: PersonId, gone: PersonId): Promise<void> {
  const there = await tx.getRepository(MembershipTable).find({ where: { personId: gone } });
  for (const { classId, leftAt } of there) {
    const own = await find(tx, MembershipTable, { classId, personId: keep });
    if (own && leftAt === null)
      await update(tx, MembershipTable, { classId, personId: keep }, { leftAt: null });
  }
}

/** Columns that name a person. What they are called is the rule; a test looks for the id in every column of the database. */
const OF_PERSON = '(^|_)(person|by|owner|student|marker)_id$';

/**
 * What names the one names the other. Where both had the same (a choice, a class), the one that is left keeps theirs. Tables and columns are read from the
 * database itself, so that one that comes later is not forgotten here. Raw: that a row is there already is for the database to say.
 */
async function moveRows(tx: Db, keep: PersonId, gone: PersonId): Promise<void> {
  const columns = await tx
    .createQueryBuilder()
    .select('c.TABLE_NAME', 'table')
    .addSelect('c.COLUMN_NAME', 'column')
    .from('information_schema.COLUMNS', 'c')
    .where(`c.TABLE_SCHEMA = DATABASE() AND c.DATA_TYPE = 'char' AND c.COLUMN_NAME REGEXP :of`, {
      of: OF_PERSON,
    })
    .getRawMany<{ table: string; column: string }>();
  for (const { table, column } of columns) {
    await tx.query(`UPDATE IGNORE \`${table}\` SET \`${column}\` = ? WHERE \`${column}\` = ?`, [keep, gone]);
    await tx.createQueryBuilder().delete().from(table).where(`${column} = :gone`, { gone }).execute();
  }
}

/** The lists of students that assignments keep: as text in text. */
async function moveLists(tx: Db, keep: PersonId, gone: PersonId): Promise<void> {
  for (const column of ['audience', 'together'] as const)
    await tx
      .createQueryBuilder()
      .update(AssignmentTable)
      .set({ [column]: () => `REPLACE(${column}, :gone, :keep)` })
      .where(`${column} LIKE :like`, { like: `%${gone}%` })
      .setParameters({ gone, keep })
      .execute();
}
