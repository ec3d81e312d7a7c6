import {
  type AssignmentId,
  type CopyId,
  compareNames,
  type Person,
  type PersonId,
  type RealName,
  realName,
  type SeenName,
  seenName,
} from '@jotmark/core';
import { CopyMemberTable, CopyTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';

/**
 * Whether the copy `c` of assignment `a` is marked blind now: the pile is, and its newest hand-in was not handed back. Nobody's name goes to a teacher
 * but through `seenName`, which must be told.
 */
export const BLIND = `(a.blind AND NOT EXISTS (SELECT 1 FROM hand_back bb JOIN hand_in bh ON bh.id = bb.hand_in_id
   WHERE bh.copy_id = c.id AND bb.unfinished = 0 AND bh.number = (SELECT MAX(bn.number) FROM hand_in bn WHERE bn.copy_id = c.id)))`;

export interface Member extends RealName {
  readonly id: PersonId;
}

/** Whose a copy is: one student, or the several of a group, in the order of a register. */
export interface CopyStudents {
  readonly copyId: CopyId;
  readonly assignmentId: AssignmentId;
  readonly students: readonly Member[];
  readonly blind: boolean;
}

/** Whose these copies are, and whether they are blind. */
export async function studentsOf(
  db: Db,
  copyIds: readonly CopyId[],
): Promise<ReadonlyMap<CopyId, CopyStudents>> {
  if (copyIds.length === 0) return new Map();
  const rows = await pick(
    db
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin('c.assignment', 'a')
      .innerJoin(CopyMemberTable.table, 'm', 'm.copyId = c.id')
      .innerJoin('m.person', 'p')
      .where('c.id IN (:...copyIds)', { copyIds }),
    {
      copyId: col('c.id', as.id<CopyId>()),
      assignmentId: col('c.assignmentId', as.id<AssignmentId>()),
      id: col('p.id', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      blind: col(BLIND, as.flag),
    },
  );
  return gathered(rows);
}

interface StudentRow extends Member {
  readonly copyId: CopyId;
  readonly assignmentId: AssignmentId;
  readonly blind: boolean;
}

/** Rows of one student each, by their copy. */
export function gathered(rows: readonly StudentRow[]): ReadonlyMap<CopyId, CopyStudents> {
  const out = new Map<CopyId, CopyStudents & { students: Member[] }>();
  for (const { copyId, assignmentId, blind, id, given, family } of rows) {
    const copy = out.get(copyId) ?? { copyId, assignmentId, blind, students: [] };
    copy.students.push({ id, given, family });
    out.set(copyId, copy);
  }
  for (const { students } of out.values())
    students.sort((a, b) => compareNames(a.family, b.family) || compareNames(a.given, b.given));
  return out;
}

export async function whose(db: Db, copyId: CopyId): Promise<CopyStudents | null> {
  return (await studentsOf(db, [copyId])).get(copyId) ?? null;
}

/** The name that this person sees: a teacher a code while the copy is blind, students their own names. */
export const nameFor = (person: Person, copy: CopyStudents): SeenName | RealName =>
  person.role === 'teacher' ? seenName(copy) : realName(copy.students);

/** A file's name while its copy is blind: what it is called may say whose it is, and so may a link, which has no ending. */
export function blindFileName(name: string, index: number, isLink = false): string {
  if (isLink) return `Link ${index + 1}`;
  const ending = /\.[A-Za-z0-9]{1,5}$/.exec(name)?.[0] ?? '';
  return `File ${index + 1}${ending}`;
}
