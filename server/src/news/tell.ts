import {
  type AssignmentId,
  type CopyId,
  choiceFor,
  type MailId,
  type MarkId,
  momentAt,
  NEWS_WORDS,
  type NewsChoices,
  type NewsKind,
  type PersonId,
  wallTime,
} from '@jotmark/core';
import { In, IsNull, MoreThan } from 'typeorm';
import {
  MailTable,
  NewsChoiceTable,
  type NoticeRow,
  NoticeTable,
  PersonTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { insertNew, update } from '../database/write.ts';
import type { House } from '../house.ts';
import { post } from '../post/letter.ts';
import { compose } from './compose.ts';
import { noticesBy } from './read.ts';

export interface ToTell {
  readonly kind: NewsKind;
  readonly assignmentId: AssignmentId | null;
  readonly copyId: CopyId | null;
  readonly mark?: MarkId | null;
  readonly byId?: PersonId | null;
  readonly words?: string;
  readonly due?: number | null;
  readonly count?: number;
  /** Told once only to each, however often it is said. */
  readonly once?: string;
}

/** When the letters of a day go, by the school's clock. */
const DAILY_AT = '16:30';

/**
 * Tells people of something, in the transaction in which it happens: it stands among their news, whoever has Jotmark open hears of it at once, and
 * who wants it gets a letter. All of it is true or none.
 */
export async function tell(
  house: House,
  tx: Db,
  told: readonly { readonly to: PersonId; readonly what: ToTell }[],
): Promise<void> {
  if (told.length === 0) return;
  const at = house.now();
  const choices = await choicesOf(
    tx,
    told.map((t) => t.to),
  );
  const rows = told.map(({ to, what }) => ({
    how: choiceFor(choices.get(to) ?? {}, what.kind),
    row: {
      personId: to,
      kind: what.kind,
      at,
      assignmentId: what.assignmentId,
      copyId: what.copyId,
      markId: what.mark ?? null,
      byId: what.byId ?? null,
      words: (what.words ?? '').slice(0, NEWS_WORDS),
      due: what.due ?? null,
      count: what.count ?? 1,
      once: what.once ?? null,
      readAt: null,
      hidden: !choiceFor(choices.get(to) ?? {}, what.kind).news,
      mailId: null,
    } satisfies Omit<NoticeRow, 'seq'>,
  }));
  const seqs: { to: PersonId; seq: number; mail: 'each' | 'daily' }[] = [];
  for (const { how, row } of rows) {
    // One by one: the database says which were new, and by which number they are known.
    const seq = await insertNotice(tx, row);
    if (seq !== null && how.mail !== 'none') seqs.push({ to: row.personId, seq, mail: how.mail });
  }
  await writeLetters(house, tx, at, seqs);
}

async function insertNotice(tx: Db, row: Omit<NoticeRow, 'seq'>): Promise<number | null> {
  const done = await tx
    .createQueryBuilder()
    .insert()
    .into(NoticeTable)
    .values(row)
    .orIgnore()
    .updateEntity(false)
    .execute();
  const raw = done.raw as { affectedRows?: number; insertId?: number };
  return raw.affectedRows ? Number(raw.insertId) : null;
}

async function choicesOf(db: Db, people: readonly PersonId[]): Promise<Map<PersonId, NewsChoices>> {
  const rows = await db
    .getRepository(NewsChoiceTable)
    .find({ where: { personId: In([...new Set(people)]) } });
  return new Map(rows.map((r) => [r.personId, r.content]));
}

async function writeLetters(
  house: House,
  tx: Db,
  at: number,
  wanted: readonly { to: PersonId; seq: number; mail: 'each' | 'daily' }[],
): Promise<void> {
  if (wanted.length === 0) return;
  const readers = await readersOf(tx, [...new Set(wanted.map((w) => w.to))]);
  const now = wanted.filter((w) => w.mail === 'each');
  const byRole = {
    teacher: now.filter((w) => readers.get(w.to)?.role === 'teacher'),
    student: now.filter((w) => readers.get(w.to)?.role !== 'teacher'),
  };
  const letters: { seq: number; to: PersonId; subject: string; body: string }[] = [];
  for (const [role, some] of Object.entries(byRole) as ['teacher' | 'student', typeof now][]) {
    if (some.length === 0) continue;
    const to = new Map(some.map((w) => [w.seq, w.to]));
    for (const notice of await noticesBy(tx, { id: some[0]!.to, role }, [...to.keys()])) {
      const reader = readers.get(to.get(notice.id)!)!;
      letters.push({ seq: notice.id, to: reader.id, ...compose([notice], reader, house.settings) });
    }
  }
  const ids = await post(
    house,
    tx,
    letters.map(({ to, subject, body }) => ({ personId: to, subject, body, daily: false, notBefore: at })),
  );
  for (const [i, { seq }] of letters.entries()) await update(tx, NoticeTable, { seq }, { mailId: ids[i]! });
  for (const { to, seq } of wanted.filter((w) => w.mail === 'daily'))
    await update(tx, NoticeTable, { seq }, { mailId: await dailyLetter(house, tx, to, at) });
}

async function readersOf(db: Db, people: readonly PersonId[]) {
  const rows = await pick(db.createQueryBuilder(PersonTable, 'p').where('p.id IN (:...people)', { people }), {
    id: col('p.id', as.id<PersonId>()),
    given: col('p.given', as.text),
    role: col('p.role', as.oneOf(['teacher', 'student'] as const)),
  });
  return new Map(rows.map((r) => [r.id, r]));
}

/** The letter that gathers somebody's day: the one that waits, or a new one. */
async function dailyLetter(house: House, tx: Db, personId: PersonId, at: number): Promise<MailId> {
  const [waits] = await tx.getRepository(MailTable).find({
    where: { personId, daily: true, sentAt: IsNull(), notBefore: MoreThan(at) },
    take: 1,
  });
  if (waits) return waits.id;
  const { timeZone } = house.settings.school;
  const today = momentAt(`${wallTime(at, timeZone).slice(0, 10)}T${DAILY_AT}`, timeZone)!;
  const tomorrow = momentAt(`${wallTime(at + 86_400_000, timeZone).slice(0, 10)}T${DAILY_AT}`, timeZone)!;
  const [id] = await post(house, tx, [
    {
      personId,
      subject: 'New in Jotmark',
      body: '',
      daily: true,
      notBefore: at < today ? today : tomorrow,
    },
  ]);
  return id!;
}

/** What somebody chose to be told of. */
export const readChoices = async (db: Db, personId: PersonId): Promise<NewsChoices> =>
  (await choicesOf(db, [personId])).get(personId) ?? {};

export async function keepChoices(
  house: House,
  personId: PersonId,
  content: NewsChoices,
): Promise<NewsChoices> {
  const db = house.db.manager;
  if ((await insertNew(db, NewsChoiceTable, { personId, content })) === 0)
    await update(db, NewsChoiceTable, { personId }, { content });
  return content;
}
