import { fullName, type MailId, type MailShape, type Person, type PersonId } from '@jotmark/core';
import { MailTable, MembershipTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';

/** So many letters are shown. */
const SHOWN = 200;

/** Letters `l` to a teacher and to the students they teach now. */
const lettersFor = (db: Db, person: Person) =>
  db
    .createQueryBuilder(MailTable, 'l')
    .innerJoin('l.person', 'p')
    .where(
      `(l.personId = :me OR (p.role = 'student' AND EXISTS (SELECT 1 FROM ${MembershipTable.options.name} s
         JOIN ${MembershipTable.options.name} t ON t.class_id = s.class_id AND t.role = 'teacher' AND t.person_id = :me AND t.left_at IS NULL
         WHERE s.person_id = l.person_id AND s.role = 'student' AND s.left_at IS NULL)))`,
      { me: person.id },
    );

const LETTER = {
  id: col('l.id', as.id<MailId>()),
  address: col('l.address', as.text),
  subject: col('l.subject', as.text),
  body: col('l.body', as.text),
  at: col('l.madeAt', as.moment),
  notBefore: col('l.notBefore', as.moment),
  sentAt: col('l.sentAt', as.maybe(as.moment)),
  trouble: col('l.trouble', as.maybe(as.text)),
  personId: col('l.personId', as.id<PersonId>()),
  given: col('p.given', as.text),
  family: col('p.family', as.text),
} as const;

/** Where a letter to a student leads is theirs to know: it would tell a teacher whose copy a blind one is. */
const withoutCopies = (body: string): string => body.replace(/\/work\/[0-9a-f-]{36}\S*/g, '/work/…');

const letters = async (person: Person, query: ReturnType<typeof lettersFor>): Promise<MailShape[]> =>
  (await pick(query, LETTER)).map(({ given, family, personId, ...rest }) => ({
    ...rest,
    body: personId === person.id ? rest.body : withoutCopies(rest.body),
    to: fullName({ given, family }),
  }));

/** The newest first. */
export const mailsFor = (db: Db, person: Person): Promise<MailShape[]> =>
  letters(person, lettersFor(db, person).orderBy('l.madeAt', 'DESC').addOrderBy('l.id', 'DESC').limit(SHOWN));

export const readMail = async (db: Db, person: Person, id: MailId): Promise<MailShape | null> =>
  (await letters(person, lettersFor(db, person).andWhere('l.id = :id', { id })))[0] ?? null;
