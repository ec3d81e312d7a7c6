import type { ClassId, CopyId, Erased, PersonId } from '@jotmark/core';
import { In, Like } from 'typeorm';
import { forget } from '../blobs/blob.ts';
import { deleteDeep } from '../database/delete-deep.ts';
import {
  AttemptTable,
  ConsentTable,
  CopyMemberTable,
  DocumentTable,
  HandBackPdfTable,
  HandBackTable,
  HeardTable,
  KnownDeviceTable,
  MailTable,
  MembershipTable,
  MessageReadTable,
  MessageTable,
  NewsChoiceTable,
  NoticeTable,
  OpenAddressTable,
  OpenedTable,
  PersonTable,
  RemarkAnswerTable,
  RemarkStudentTable,
  RemarkTable,
  ReportTable,
  SessionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { NEW_ACCOUNT } from '../people/person.ts';

/** Nobody's: an account that was erased keeps a row, since others' work may name it. */
const NOBODY = { given: 'Erased student', family: '', passwordHash: '*' } as const;

/**
 * Erases what there is of a student who has left a class: their own copies with all that came of them, what was said to them, reports, addresses. A copy of a group stays with
 * its others, without their words. The account goes when they are in no other class. Gives what went, and what remains and why. Throws `still-in-class`.
 */
export async function eraseStudent(house: House, classId: ClassId, personId: PersonId): Promise<Erased> {
  const files = new Set<string>();
  const erased = await inTransaction(house.db, async (tx) => {
    const member = await lock(tx, MembershipTable, { classId, personId, role: 'student' });
    if (!member) throw new Fault('not-found');
    if (member.leftAt === null) throw new Fault('still-in-class');
    const copies = await copiesOf(tx, classId, personId);
    const own = copies.filter((c) => c.members === 1).map((c) => c.id);
    const shared = copies.filter((c) => c.members > 1).map((c) => c.id);
    for (const sha256 of await filesOf(tx, own)) files.add(sha256);
    await eraseCopies(tx, own);
    await leaveShared(tx, shared, personId, house.now());
    await eraseWords(tx, classId, personId);
    await remove(tx, MembershipTable, { classId, personId });
    const elsewhere = await tx.getRepository(MembershipTable).count({ where: { personId } });
    if (elsewhere === 0) await eraseAccount(tx, personId);
    return { copies: own.length, shared: shared.length, account: elsewhere === 0 };
  });
  // What nothing names any more; the same bytes may be somebody else's too.
  for (const sha256 of files) await forget(house.db, sha256);
  return erased;
}

const copiesOf = (tx: Db, classId: ClassId, personId: PersonId) =>
  pick(
    tx
      .createQueryBuilder(CopyMemberTable, 'cm')
      .innerJoin('cm.copy', 'c')
      .innerJoin('c.assignment', 'a')
      .where('cm.personId = :personId AND a.classId = :classId', { personId, classId }),
    {
      id: col('c.id', as.id<CopyId>()),
      members: col('(SELECT COUNT(*) FROM copy_member o WHERE o.copy_id = c.id)', as.int),
    },
  );

async function filesOf(tx: Db, copyIds: readonly CopyId[]): Promise<string[]> {
  if (copyIds.length === 0) return [];
  const documents = await tx.getRepository(DocumentTable).find({ where: { copyId: In([...copyIds]) } });
  return documents.flatMap((d) => [d.sha256, d.originalSha256, d.pictureSha256].filter((s) => s !== null));
}

async function eraseCopies(tx: Db, copyIds: readonly CopyId[]): Promise<void> {
  if (copyIds.length === 0) return;
  const backs = (await tx.getRepository(HandBackTable).find({ where: { copyId: In([...copyIds]) } })).map(
    (b) => b.id,
  );
  if (backs.length) {
    // Nothing of the database ties these to their hand-back.
    await tx.getRepository(OpenedTable).delete({ handBackId: In(backs) });
    await tx.getRepository(HandBackPdfTable).delete({ handBackId: In(backs) });
  }
  await tx.getRepository(NoticeTable).delete({ copyId: In([...copyIds]) });
  await deleteDeep(tx, 'copy', copyIds);
}

async function leaveShared(
  tx: Db,
  copyIds: readonly CopyId[],
  personId: PersonId,
  now: number,
): Promise<void> {
  if (copyIds.length === 0) return;
  await tx
    .getRepository(MessageTable)
    .update({ copyId: In([...copyIds]), byId: personId }, { words: '', withdrawnAt: now });
  await tx.getRepository(CopyMemberTable).delete({ copyId: In([...copyIds]), personId });
}

async function eraseWords(tx: Db, classId: ClassId, personId: PersonId): Promise<void> {
  const remarks = (await tx.getRepository(RemarkTable).find({ where: { classId } })).map((r) => r.id);
  if (remarks.length) {
    await tx.getRepository(RemarkAnswerTable).delete({ remarkId: In(remarks), personId });
    await tx.getRepository(RemarkStudentTable).delete({ remarkId: In(remarks), personId });
    const left = new Set(
      (await tx.getRepository(RemarkStudentTable).find({ where: { remarkId: In(remarks) } })).map(
        (s) => s.remarkId,
      ),
    );
    const empty = remarks.filter((id) => !left.has(id));
    if (empty.length) await tx.getRepository(RemarkTable).delete({ id: In(empty) });
  }
  await remove(tx, ReportTable, { classId, personId });
  await remove(tx, OpenAddressTable, { classId, personId });
}

async function eraseAccount(tx: Db, personId: PersonId): Promise<void> {
  for (const table of [
    SessionTable,
    KnownDeviceTable,
    ConsentTable,
    NoticeTable,
    MailTable,
    NewsChoiceTable,
    HeardTable,
    OpenedTable,
    MessageReadTable,
  ])
    await remove(tx, table as typeof SessionTable, { personId });
  const { login } = (await find(tx, PersonTable, { id: personId }))!;
  // Tries to sign in are counted by login.
  await tx.getRepository(AttemptTable).delete({ name: Like(`%${login.replace(/[%_\\]/g, '\\$&')}%`) });
  await tx.getRepository(AttemptTable).delete({ name: Like(`%${personId}%`) });
  await update(
    tx,
    PersonTable,
    { id: personId },
    { ...NOBODY, ...NEW_ACCOUNT, login: `erased-${personId.slice(-12)}` },
  );
}
