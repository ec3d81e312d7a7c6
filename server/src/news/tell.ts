import {
  type AssignmentId,
  type ClassId,
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
import { insert, insertNew, update } from '../database/write.ts';
import { type House, newId } from '../house.ts';
import { post } from '../post/letter.ts';
import { compose } from './compose.ts';
import { noticesOfMails } from './read.ts';

export interface ToTell {
  readonly kind: NewsKind;
  readonly assignmentId: AssignmentId | null;
  readonly copyId: CopyId | null;
  /** Of what is about no assignment. */
  readonly classId?: ClassId;
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
  all: readonly { readonly to: PersonId; readonly what: ToTell }[],
): Promise<void> {
  // What somebody did themselves, as in a trial run, they know.
  const told = all.filter(({ to, what }) => to !== what.byId);
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
      classId: what.classId ?? null,
      markId: what.mark ?? null,
      byId: what.byId ?? null,
      words: (what.words ?? '').slice(0, NEWS_WORDS),
      due: what.due ?? null,
      count: what.count ?? 1,
      once: what.once ?? null,
      readAt: null,
      hidden: !choiceFor(choices.get(to) ?? {}, what.kind).news,
    } satisfies Omit<NoticeRow, 'seq' | 'mailId'>,
  }));
  const letters: Letters = new Map();
  const many: Omit<NoticeRow, 'seq'>[] = [];
  for (const { how, row } of rows) {
    const mailId =
      how.mail === 'each'
        ? newId<MailId>(house)
        : how.mail === 'daily'
          ? await dailyLetter(house, tx, row.personId, at)
          : null;
    const notice = { ...row, mailId };
    // Told once only: the database says which are new.
    if (row.once === null) many.push(notice);
    else if ((await insertNew(tx, NoticeTable, notice as NoticeRow)) === 0) continue;
    if (mailId && how.mail === 'each') letters.set(mailId, row.personId);
  }
  if (many.length) await insert(tx, NoticeTable, many as NoticeRow[]);
  await writeLetters(house, tx, at, letters);
}

/** Letters that are written at once, by whom they are for. */
type Letters = Map<MailId, PersonId>;

async function choicesOf(db: Db, people: readonly PersonId[]): Promise<Map<PersonId, NewsChoices>> {
  const rows = await db
    .getRepository(NewsChoiceTable)
    .find({ where: { personId: In([...new Set(people)]) } });
  return new Map(rows.map((r) => [r.personId, r.content]));
}

async function writeLetters(house: House, tx: Db, at: number, letters: Letters): Promise<void> {
  if (letters.size === 0) return;
  const readers = await readersOf(tx, [...new Set(letters.values())]);
  const out: Parameters<typeof post>[2][number][] = [];
  for (const role of ['teacher', 'student'] as const) {
    const ids = [...letters].filter(([, to]) => readers.get(to)?.role === role).map(([id]) => id);
    if (ids.length === 0) continue;
    const told = await noticesOfMails(tx, { id: letters.get(ids[0]!)!, role }, ids);
    for (const id of ids) {
      const reader = readers.get(letters.get(id)!)!;
      const notices = told.get(id) ?? [];
      if (notices.length)
        out.push({
          id,
          personId: reader.id,
          ...compose(notices, reader, house.settings),
          daily: false,
          notBefore: at,
        });
    }
  }
  await post(house, tx, out);
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
