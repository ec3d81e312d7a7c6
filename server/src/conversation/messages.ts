import {
  type ConversationShape,
  type CopyId,
  fullName,
  type Message,
  MessageAct,
  type MessageId,
  MessagePlace,
  type Person,
  type PersonId,
  Role,
} from '@jotmark/core';
import { LessThan } from 'typeorm';
import { assignmentsWithClass } from '../assignment/head.ts';
import { HandInTable, MessageReadTable, MessageTable } from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne } from '../database/pick.ts';
import { find, insertNew } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hintCopy } from '../live/hint.ts';
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
      seen: col(
        `EXISTS (SELECT 1 FROM message_read o JOIN person q ON q.id = o.person_id
           WHERE o.copy_id = m.copy_id AND o.at >= m.at AND q.role <> p.role)`,
        as.flag,
      ),
    },
  );
  return rows
    .map(
      ({ id, byId, at, words, cover, place, act, role, readAt, seen, ...by }): Message => ({
        id,
        by: role === 'student' && code !== null ? code : fullName(by),
        mine: byId === person.id,
        at,
        words,
        cover,
        place,
        act,
        seen: byId === person.id && seen,
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
  },
): Promise<void> {
  const at = house.now();
  await insertNew(db, MessageTable, {
    id: what.id ?? newId<MessageId>(house),
    copyId: what.copyId,
    byId: what.by,
    at,
    words: what.words,
    cover: what.cover,
    place: what.place ?? null,
    act: what.act ?? null,
  });
  await giveHelpFiles(db, what.copyId, [what.by], [what.words]);
  await hintCopy(db, what.copyId, 'word', at);
}

/** Everything up to `at` was read by this person; never goes back. */
export async function markRead(house: House, person: Person, copyId: CopyId, at: number): Promise<void> {
  const db = house.db.manager;
  const until = Math.min(at, house.now());
  await insertNew(db, MessageReadTable, { copyId, personId: person.id, at: until });
  await db
    .getRepository(MessageReadTable)
    .update({ copyId, personId: person.id, at: LessThan(until) }, { at: until });
}
