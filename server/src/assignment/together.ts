import {
  type AssignmentId,
  type CopyId,
  fullName,
  type GroupsToChoose,
  MOST_MEMBERS,
  mayChoose,
  type Person,
  type PersonId,
  type Together,
} from '@jotmark/core';
import { newestHandIn } from '../copy/away.ts';
import { deleteDeep } from '../database/delete-deep.ts';
import {
  AssignmentTable,
  CopyFileTable,
  CopyMemberTable,
  CopyTable,
  CopyTrailTable,
  MarkingTable,
  MessageTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { hintCopy } from '../live/hint.ts';
import { studentsOf } from '../people/students.ts';
import { handOut, studentsIn } from './hand-out.ts';

/** Keeps how students work together. Of a draft all of it; of work that is out who is with whom stands in the copies, and the rest is kept. */
export async function saveTogether(
  house: House,
  assignmentId: AssignmentId,
  together: Together | null,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const a = await lock(tx, AssignmentTable, { id: assignmentId });
    if (!a) throw new Fault('not-found');
    const inClass = new Set(await studentsIn(tx, a.classId));
    const groups = a.opensAt === null ? (together?.groups ?? []) : [];
    if (groups.flat().some((p) => !inClass.has(p))) throw new Fault('not-your-student');
    if (together && groups.some((g) => g.length > together.most))
      throw new Fault('group-full', { most: together.most });
    await update(
      tx,
      AssignmentTable,
      { id: assignmentId },
      { together: together && { ...together, groups } },
    );
  });
}

/** The copies of an assignment with their students, in the order they were handed out. */
export async function groupsOut(
  db: Db,
  assignmentId: AssignmentId,
): Promise<{ copyId: CopyId; students: PersonId[] }[]> {
  const rows = await pick(
    db
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin(CopyMemberTable.table, 'm', 'm.copyId = c.id')
      .where('c.assignmentId = :assignmentId', { assignmentId })
      .orderBy('c.id'),
    { copyId: col('c.id', as.id<CopyId>()), personId: col('m.personId', as.id<PersonId>()) },
  );
  const out = new Map<CopyId, PersonId[]>();
  for (const { copyId, personId } of rows) out.set(copyId, [...(out.get(copyId) ?? []), personId]);
  return [...out].map(([copyId, students]) => ({ copyId, students }));
}

/** Puts a student into another copy of the same assignment, or gives them one of their own. Gives the copy they have then. */
export async function moveMember(
  house: House,
  assignmentId: AssignmentId,
  personId: PersonId,
  to: CopyId | null,
): Promise<CopyId> {
  return inTransaction(house.db, (tx) => move(house, tx, assignmentId, personId, to, MOST_MEMBERS));
}

/** The same by the student, as long as students choose. */
export async function joinGroup(
  house: House,
  person: Person,
  copyId: CopyId,
  to: CopyId | null,
): Promise<CopyId> {
  return inTransaction(house.db, async (tx) => {
    const copy = await find(tx, CopyTable, { id: copyId });
    const a = copy && (await lock(tx, AssignmentTable, { id: copy.assignmentId }));
    if (!a) throw new Fault('not-found');
    if (!mayChoose(a.together, house.now())) throw new Fault('groups-closed');
    for (const id of [copyId, ...(to ? [to] : [])]) {
      const newest = await newestHandIn(tx, id);
      if (newest && !newest.cameBack) throw new Fault('already-handed-in');
    }
    return move(house, tx, a.id, person.id, to, a.together!.most);
  });
}

async function move(
  house: House,
  tx: Db,
  assignmentId: AssignmentId,
  personId: PersonId,
  to: CopyId | null,
  most: number,
): Promise<CopyId> {
  // One at a time for an assignment: a group is never fuller than it may be, and two who swap do not meet halfway.
  await lock(tx, AssignmentTable, { id: assignmentId });
  const member = await find(tx, CopyMemberTable, { assignmentId, personId });
  if (!member) throw new Fault('not-found');
  const from = member.copyId;
  if (from === to) return from;
  for (const id of [from, ...(to ? [to] : [])].sort()) {
    const copy = await lock(tx, CopyTable, { id });
    if (copy?.assignmentId !== assignmentId) throw new Fault('not-found');
  }
  const members = (id: CopyId) => tx.getRepository(CopyMemberTable).count({ where: { copyId: id } });
  if (to && (await members(to)) >= most) throw new Fault('group-full', { most });
  const alone = (await members(from)) === 1;
  if (alone && to === null) return from;
  // Work that lies on a copy always belongs to somebody.
  if (alone && (await isWorkedOn(tx, from))) throw new Fault('work-there');
  await remove(tx, CopyMemberTable, { copyId: from, personId });
  if (to) await insert(tx, CopyMemberTable, { copyId: to, personId, assignmentId });
  const copyId = to ?? (await handOut(house, tx, assignmentId, [personId])).get(personId)!;
  if (alone) await deleteDeep(tx, 'copy', [from]);
  else await hintCopy(tx, from, 'hand-in', house.now());
  await hintCopy(tx, copyId, 'hand-in', house.now());
  return copyId;
}

/** Whether anything was done on a copy: by its students, or by who marks it. */
async function isWorkedOn(tx: Db, copyId: CopyId): Promise<boolean> {
  for (const table of [CopyTrailTable, CopyFileTable, MarkingTable, MessageTable] as const)
    if ((await tx.getRepository(table as typeof CopyFileTable).count({ where: { copyId } })) > 0) return true;
  return (await newestHandIn(tx, copyId)) !== null;
}

/** With whom a student works, and with whom they could. */
export async function groupsToChoose(house: House, person: Person, copyId: CopyId): Promise<GroupsToChoose> {
  const db = house.db.manager;
  const copy = await find(db, CopyTable, { id: copyId });
  const a = copy && (await find(db, AssignmentTable, { id: copy.assignmentId }));
  if (!a) throw new Fault('not-found');
  const most = a.together?.most ?? 1;
  const choosing = mayChoose(a.together, house.now());
  const all = choosing ? await groupsOut(db, a.id) : [];
  const names = await studentsOf(
    db,
    all.map((g) => g.copyId),
  );
  const groups: GroupsToChoose['groups'] = [];
  for (const g of all) {
    const newest = await newestHandIn(db, g.copyId);
    groups.push({
      copyId: g.copyId,
      members: (names.get(g.copyId)?.students ?? []).map((s) => fullName(s)),
      mine: g.students.includes(person.id),
      closed: g.students.length >= most || (newest !== null && !newest.cameBack),
    });
  }
  return { most, until: choosing ? a.together!.chosenUntil : null, groups };
}
