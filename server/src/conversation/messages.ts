import {
  type ConversationShape,
  type CopyId,
  fullName,
  type Message,
  MessageAct,
  type MessageId,
  MessagePlace,
  NEWS_WORDS,
  type Person,
  type PersonId,
  Role,
} from '@jotmark/core';
import { LessThan } from 'typeorm';
import { assignmentsWithClass } from '../assignment/head.ts';
import { HandInTable, MessageReadTable, MessageTable, NoticeTable } from '../database/entities/index.ts';
import { as, col, type Db, exists, pick, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insertNew, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hintCopy } from '../live/hint.ts';
import { studentsOfCopies, teachersOfCopy } from '../news/of-class.ts';
import { sawCopy } from '../news/read.ts';
import { tell } from '../news/tell.ts';
import { nameFor, whose } from '../people/students.ts';
import { giveHelpFiles } from './help-files.ts';

/** A longer conversation than this on one copy is cut to its newest part. */
const MOST = 500;

/** The private conversation on a copy, oldest first: between its students and the teachers of the class. */
export async function readConversation(
  house: House,
  person: Person,
  copyId: CopyId,
): Promise<ConversationShape> {
  const db = house.db.manager;
  const students = await whose(db, copyId);
  if (!students) throw new Fault('not-found');
  const about = await pickOne(assignmentsWithClass(db).where('a.id = :id', { id: students.assignmentId }), {
    title: col('a.title', as.text),
    className: col('k.name', as.text),
  });
  return {
    assignmentId: students.assignmentId,
    ...about!,
    student: fullName(nameFor(person, students)),
    handedIn: (await find(db, HandInTable, { copyId })) !== null,
    messages: await readMessages(
      db,
      person,
      copyId,
      person.role === 'teacher' && students.blind ? fullName(nameFor(person, students)) : null,
    ),
  };
}

/** `code` stands for the students' names where a teacher may not see them; null: they are shown. */
async function readMessages(db: Db, person: Person, copyId: CopyId, code: string | null): Promise<Message[]> {
  const rows = await pick(
    db
      .createQueryBuilder(MessageTable, 'm')
      .innerJoin('m.by', 'p')
      .leftJoin(MessageReadTable.table, 'r', 'r.copyId = m.copyId AND r.personId = :me', { me: person.id })
      .where('m.copyId = :copyId', { copyId })
      .orderBy('m.at', 'DESC')
      .addOrderBy('m.id', 'DESC')
      .limit(MOST),
    {
      id: col('m.id', as.id<MessageId>()),
      byId: col('m.byId', as.id<PersonId>()),
      at: col('m.at', as.moment),
      words: col('m.words', as.text),
      cover: col('m.cover', as.flag),
      act: col('m.act', as.maybe(as.oneOf(MessageAct.options))),
      place: col('m.place', as.maybe(as.json((raw) => MessagePlace.safeParse(raw)))),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      role: col('p.role', as.oneOf(Role.options)),
      readAt: col('r.at', as.maybe(as.moment)),
      seenAt: col(
        `(SELECT MIN(o.at) FROM message_read o JOIN person q ON q.id = o.person_id
           WHERE o.copy_id = m.copy_id AND o.at >= m.at AND q.role <> p.role)`,
        as.maybe(as.moment),
      ),
      edited: col('m.editedAt IS NOT NULL', as.flag),
      withdrawn: col('m.withdrawnAt IS NOT NULL', as.flag),
    },
  );
  return rows
    .map(
      ({
        id,
        byId,
        at,
        words,
        cover,
        place,
        act,
        role,
        readAt,
        seenAt,
        edited,
        withdrawn,
        ...by
      }): Message => ({
        id,
        by: role === 'student' && code !== null ? code : fullName(by),
        mine: byId === person.id,
        at,
        words,
        cover,
        place,
        act,
        seenAt: byId === person.id ? seenAt : null,
        edited,
        withdrawn,
        unread: byId !== person.id && (readAt === null || at > readAt),
      }),
    )
    .reverse();
}

export async function addMessage(
  house: House,
  db: Db,
  what: {
    id?: MessageId;
    copyId: CopyId;
    by: PersonId;
    words: string;
    cover: boolean;
    place?: MessagePlace | null | undefined;
    act?: MessageAct | null | undefined;
    /** Those it is for are told by something else. */
    quietly?: boolean;
  },
): Promise<void> {
  const at = house.now();
  const id = what.id ?? newId<MessageId>(house);
  // The same once more is that message; other words under its id would be dropped without a word.
  const there = what.id ? await find(db, MessageTable, { id }) : null;
  const same = there?.copyId === what.copyId && there.byId === what.by;
  if (
    there &&
    !(same && (there.words === what.words || there.editedAt !== null || there.withdrawnAt !== null))
  )
    throw new Fault('id-taken');
  await insertNew(db, MessageTable, {
    id,
    copyId: what.copyId,
    byId: what.by,
    at,
    words: what.words,
    cover: what.cover,
    place: what.place ?? null,
    act: what.act ?? null,
    editedAt: null,
    withdrawnAt: null,
  });
  await giveHelpFiles(db, what.copyId, [what.by], [what.words]);
  await hintCopy(db, what.copyId, 'word', at);
  if (!what.quietly) await tellOfMessage(house, db, id, what);
}

/** By which the news of a message are found again: they never say what the message no longer does. */
const newsOf = (id: MessageId) => `message:${id}`;

/** Whoever it is for hears of it: of a student's the teachers, of a teacher's the students. */
async function tellOfMessage(
  house: House,
  db: Db,
  id: MessageId,
  what: {
    copyId: CopyId;
    by: PersonId;
    words: string;
    place?: MessagePlace | null | undefined;
    act?: MessageAct | null | undefined;
  },
): Promise<void> {
  const to = await teachersOfCopy(db, what.copyId);
  const students = (await studentsOfCopies(db, [what.copyId])).map((s) => s.personId);
  const byStudent = students.includes(what.by);
  const mark = what.place?.mark ?? null;
  // What was only done with a note stands at that note, and is counted in the pile.
  if (!to || (what.words === '' && !what.place?.instead)) return;
  await tell(
    house,
    db,
    (byStudent ? to.teachers : students).map((personId) => ({
      to: personId,
      what: {
        kind: byStudent && (mark || what.act) ? 'answered' : 'message',
        assignmentId: to.assignmentId,
        copyId: what.copyId,
        mark,
        byId: what.by,
        words: what.words,
        once: newsOf(id),
      },
    })),
  );
}

/** The row of what this person said, under its lock. */
async function lockOwn(tx: Db, person: Person, copyId: CopyId, id: MessageId) {
  const row = await lock(tx, MessageTable, { id, copyId });
  if (!row || row.withdrawnAt !== null) throw new Fault('not-found');
  if (row.byId !== person.id) throw new Fault('not-your-message');
  return row;
}

/** Changes the words of what one said. Who has read them is shown that they are others now. */
export async function editMessage(
  house: House,
  person: Person,
  copyId: CopyId,
  id: MessageId,
  words: string,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lockOwn(tx, person, copyId, id);
    await update(tx, MessageTable, { id }, { words, editedAt: house.now() });
    await update(tx, NoticeTable, { once: newsOf(id) }, { words: words.slice(0, NEWS_WORDS) });
    await giveHelpFiles(tx, copyId, [person.id], [words]);
    await hintCopy(tx, copyId, 'word', house.now());
  });
}

/** Withdraws what one said: as if it had never been, where nobody has read it; else it says so, without its words. What was done with it stays done. */
export async function withdrawMessage(
  house: House,
  person: Person,
  copyId: CopyId,
  id: MessageId,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const row = await lockOwn(tx, person, copyId, id);
    const read = await exists(
      tx
        .createQueryBuilder(MessageReadTable, 'r')
        .where('r.copyId = :copyId AND r.personId <> :me AND r.at >= :at', {
          copyId,
          me: person.id,
          at: new Date(row.at),
        }),
    );
    const { instead: _, ...place } = row.place ?? {};
    if (read || row.act !== null)
      await update(
        tx,
        MessageTable,
        { id },
        {
          words: '',
          withdrawnAt: house.now(),
          place: row.place && (place as MessagePlace),
        },
      );
    else await remove(tx, MessageTable, { id });
    // Nobody is told of what is not there any more.
    if (read) await update(tx, NoticeTable, { once: newsOf(id) }, { words: '' });
    else await remove(tx, NoticeTable, { once: newsOf(id) });
    await hintCopy(tx, copyId, 'word', house.now());
  });
}

/** Everything up to `at` was read by this person; never goes back. */
export async function markRead(house: House, person: Person, copyId: CopyId, at: number): Promise<void> {
  const db = house.db.manager;
  const until = Math.min(at, house.now());
  await insertNew(db, MessageReadTable, { copyId, personId: person.id, at: until });
  await db
    .getRepository(MessageReadTable)
    .update({ copyId, personId: person.id, at: LessThan(until) }, { at: until });
  await sawCopy(house, person, copyId, ['message', 'answered']);
}
