import {
  type AssignmentId,
  type ClassId,
  type CopyId,
  fullName,
  type MailId,
  type MarkId,
  NEWS_SHOWN,
  type News,
  NewsKind,
  type Notice,
  type Person,
  type PersonId,
} from '@jotmark/core';
import { In, IsNull, LessThanOrEqual } from 'typeorm';
import { AssignmentTable, ClassTable, NoticeTable, PersonTable } from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne } from '../database/pick.ts';
import type { House } from '../house.ts';
import { nameFor, studentsOf } from '../people/students.ts';

const NOTICE = {
  id: col('n.seq', as.int),
  personId: col('n.personId', as.id<PersonId>()),
  kind: col('n.kind', as.oneOf(NewsKind.options)),
  at: col('n.at', as.moment),
  read: col('n.readAt IS NOT NULL', as.flag),
  assignmentId: col('n.assignmentId', as.maybe(as.id<AssignmentId>())),
  copyId: col('n.copyId', as.maybe(as.id<CopyId>())),
  markId: col('n.markId', as.maybe(as.id<MarkId>())),
  words: col('n.words', as.text),
  due: col('n.due', as.maybe(as.moment)),
  count: col('n.count', as.int),
  classId: col('n.classId', as.maybe(as.id<ClassId>())),
  byId: col('n.byId', as.maybe(as.id<PersonId>())),
  title: col(`COALESCE(a.title, '')`, as.text),
  className: col(`COALESCE(k.name, '')`, as.text),
  given: col('p.given', as.maybe(as.text)),
  family: col('p.family', as.maybe(as.text)),
} as const;

const notices = (db: Db) =>
  db
    .createQueryBuilder(NoticeTable, 'n')
    .leftJoin(AssignmentTable.table, 'a', 'a.id = n.assignmentId')
    .leftJoin(ClassTable.table, 'k', 'k.id = COALESCE(a.classId, n.classId)')
    .leftJoin(PersonTable.table, 'p', 'p.id = n.byId')
    .orderBy('n.at', 'DESC')
    .addOrderBy('n.seq', 'DESC');

/** Rows as their reader may see them: a student whose copy is blind is a code to a teacher. */
async function shown(
  db: Db,
  person: Pick<Person, 'id' | 'role'>,
  query: ReturnType<typeof notices>,
): Promise<Notice[]> {
  const rows = await pick(query, NOTICE);
  const copies = await studentsOf(db, [...new Set(rows.flatMap((r) => r.copyId ?? []))]);
  return rows.map(({ personId, classId, byId, given, family, markId: mark, ...row }): Notice => {
    const copy = row.copyId ? copies.get(row.copyId) : undefined;
    const who =
      person.role === 'teacher' && copy
        ? fullName(nameFor(person as Person, copy))
        : given !== null && family !== null
          ? fullName({ given, family })
          : '';
    // Whose log it is: a teacher's news is about who wrote it, a student's about their own.
    const of = person.role === 'teacher' ? byId : personId;
    return { ...row, mark, who, log: classId && of ? { classId, personId: of } : null };
  });
}

/** One's news, the newest first. */
export async function readNews(house: House, person: Person): Promise<News> {
  const db = house.db.manager;
  const [list, unread] = await Promise.all([
    shown(
      db,
      person,
      notices(db).where('n.personId = :me AND n.hidden = 0', { me: person.id }).limit(NEWS_SHOWN),
    ),
    pickOne(
      db
        .createQueryBuilder(NoticeTable, 'n')
        .where('n.personId = :me AND n.hidden = 0 AND n.readAt IS NULL', { me: person.id }),
      { count: col('COUNT(*)', as.int) },
    ),
  ]);
  return { unread: unread!.count, notices: list };
}

/** What one letter tells of, the oldest first. */
export const noticesOfMail = async (
  db: Db,
  person: Pick<Person, 'id' | 'role'>,
  mailId: MailId,
): Promise<Notice[]> =>
  (await shown(db, person, notices(db).where('n.mailId = :mailId', { mailId }))).reverse();

/** What each of these letters tells of, for readers of one role. */
export async function noticesOfMails(
  db: Db,
  person: Pick<Person, 'id' | 'role'>,
  mailIds: readonly MailId[],
): Promise<ReadonlyMap<MailId, Notice[]>> {
  const query = () => notices(db).where('n.mailId IN (:...mailIds)', { mailIds });
  const of = await pick(query(), { id: col('n.seq', as.int), mailId: col('n.mailId', as.id<MailId>()) });
  const mail = new Map(of.map((r) => [r.id, r.mailId]));
  const out = new Map<MailId, Notice[]>();
  for (const n of await shown(db, person, query())) {
    const id = mail.get(n.id)!;
    out.set(id, [...(out.get(id) ?? []), n]);
  }
  return out;
}

/** These, or all up to now, were read; or are to be read again. */
export async function markNews(
  house: House,
  person: Person,
  ids: readonly number[] | null,
  read: boolean,
): Promise<void> {
  if (ids?.length === 0) return;
  const now = house.now();
  await house.db.manager.getRepository(NoticeTable).update(
    {
      personId: person.id,
      ...(ids ? { seq: In([...ids]) } : { at: LessThanOrEqual(now), readAt: IsNull() }),
    },
    { readAt: read ? now : null },
  );
}

/** Whoever looked at the thing itself has read what told of it. */
export async function sawCopy(
  house: House,
  person: Person,
  copyId: CopyId,
  kinds: readonly NewsKind[],
): Promise<void> {
  await house.db.manager
    .getRepository(NoticeTable)
    .update({ personId: person.id, copyId, kind: In([...kinds]), readAt: IsNull() }, { readAt: house.now() });
}

/** The number of each person's newest notice, for those who have Jotmark open. */
export const newsNumbers = (db: Db, people: readonly string[]) =>
  pick(
    db
      .createQueryBuilder(NoticeTable, 'n')
      .where('n.personId IN (:...people)', { people })
      .groupBy('n.personId'),
    { id: col('n.personId', as.id<PersonId>()), seq: col('MAX(n.seq)', as.int) },
  );
