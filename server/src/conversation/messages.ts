import type {
  ConversationShape,
  CopyId,
  Message,
  MessageId,
  MessagePlace,
  Person,
  UnreadLine,
} from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import type { RawRow } from '../database/raw.ts';
import { type House, newId } from '../house.ts';
import { hintCopy } from '../live/hint.ts';
import { BLIND_COLUMN, fullName, shownStudent } from '../people/blind.ts';

/** A longer conversation than this on one copy is cut to its newest part. */
const MOST = 500;

/** The private conversation on a copy, oldest first: between its student and the teachers of the class. */
export async function readConversation(
  house: House,
  person: Person,
  copyId: string,
): Promise<ConversationShape> {
  const [about] = await house.db.query(
    `SELECT a.id, a.title, k.name, p.given, p.family, c.id AS copy_id, ${BLIND_COLUMN}, EXISTS (SELECT 1 FROM hand_in h WHERE h.copy_id = c.id) AS handed_in
     FROM copy c JOIN assignment a ON a.id = c.assignment_id JOIN school_class k ON k.id = a.class_id JOIN person p ON p.id = c.student_id WHERE c.id = ?`,
    [copyId],
  );
  return {
    assignmentId: about.id,
    title: about.title,
    className: about.name,
    student: nameFor(person, about, true),
    handedIn: Boolean(Number(about.handed_in)),
    messages: await readMessages(house, person, copyId),
  };
}

/** A student's name as this person may see it: a teacher who marks blind sees a code. */
function nameFor(person: Person, row: RawRow, isStudent: boolean): string {
  const real = { given: row.given, family: row.family };
  return fullName(isStudent && person.role === 'teacher' ? shownStudent(row) : real);
}

async function readMessages(house: House, person: Person, copyId: string): Promise<Message[]> {
  const rows = await house.db.query(
    `SELECT m.id, m.by_id, m.at, m.words, m.cover, m.place, p.given, p.family, p.role, c.id AS copy_id, ${BLIND_COLUMN}, r.at AS read_at
     FROM message m JOIN person p ON p.id = m.by_id JOIN copy c ON c.id = m.copy_id JOIN assignment a ON a.id = c.assignment_id
       LEFT JOIN message_read r ON r.copy_id = m.copy_id AND r.person_id = ?
     WHERE m.copy_id = ? ORDER BY m.at DESC, m.id DESC LIMIT ${MOST}`,
    [person.id, copyId],
  );
  return rows
    .map(
      (r: RawRow): Message => ({
        id: r.id,
        by: nameFor(person, r, r.role === 'student'),
        mine: r.by_id === person.id,
        at: r.at.getTime(),
        words: r.words,
        cover: Boolean(r.cover),
        place: r.place ? JSON.parse(r.place) : null,
        unread: r.by_id !== person.id && (r.read_at === null || r.at > r.read_at),
      }),
    )
    .reverse();
}

export async function addMessage(
  house: House,
  db: Pick<EntityManager, 'query'>,
  what: {
    id?: MessageId;
    copyId: CopyId;
    by: string;
    words: string;
    cover: boolean;
    place?: MessagePlace | null | undefined;
  },
): Promise<void> {
  await db.query(
    'INSERT IGNORE INTO message (id, copy_id, by_id, at, words, cover, place) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      what.id ?? newId<MessageId>(house),
      what.copyId,
      what.by,
      new Date(house.now()),
      what.words,
      what.cover,
      what.place ? JSON.stringify(what.place) : null,
    ],
  );
  await hintCopy(db, what.copyId, 'word', new Date(house.now()));
}

/** Everything up to `at` was read by this person; never goes back. */
export async function markRead(house: House, person: Person, copyId: string, at: number): Promise<void> {
  await house.db.query(
    'INSERT INTO message_read (copy_id, person_id, at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE at = GREATEST(at, VALUES(at))',
    [copyId, person.id, new Date(Math.min(at, house.now()))],
  );
}

/** How much of the conversation on copy `c` a person has not read. Takes the person's id as two parameters. */
export const UNREAD_COLUMN = `(SELECT COUNT(*) FROM message um LEFT JOIN message_read ur ON ur.copy_id = um.copy_id AND ur.person_id = ?
   WHERE um.copy_id = c.id AND um.by_id <> ? AND (ur.at IS NULL OR um.at > ur.at))`;

/** Conversations in which something is unread, the oldest first. */
export async function unreadOf(house: House, person: Person): Promise<UnreadLine[]> {
  const mine =
    person.role === 'teacher'
      ? `JOIN membership t ON t.class_id = a.class_id AND t.role = 'teacher' AND t.person_id = ?`
      : 'JOIN person t ON t.id = c.student_id AND t.id = ?';
  const rows = await house.db.query(
    `SELECT c.id AS copy_id, a.title, k.name AS class_name, s.given, s.family, ${BLIND_COLUMN}, m.at, m.words, b.given AS by_given, b.family AS by_family,
       EXISTS (SELECT 1 FROM hand_in h WHERE h.copy_id = c.id) AS handed_in
     FROM message m JOIN copy c ON c.id = m.copy_id JOIN assignment a ON a.id = c.assignment_id JOIN school_class k ON k.id = a.class_id
       JOIN person s ON s.id = c.student_id JOIN person b ON b.id = m.by_id ${mine}
       LEFT JOIN message_read r ON r.copy_id = m.copy_id AND r.person_id = ?
     WHERE m.by_id <> ? AND (r.at IS NULL OR m.at > r.at) ORDER BY m.at LIMIT 500`,
    [person.id, person.id, person.id],
  );
  const lines = new Map<string, UnreadLine>();
  for (const r of rows) {
    const before = lines.get(r.copy_id);
    const who = person.role === 'teacher' ? nameFor(person, r, true) : `${r.by_given} ${r.by_family}`;
    lines.set(r.copy_id, {
      copyId: r.copy_id,
      title: r.title,
      className: r.class_name,
      who: who.trim(),
      count: (before?.count ?? 0) + 1,
      at: before?.at ?? r.at.getTime(),
      words: r.words,
      handedIn: Boolean(Number(r.handed_in)),
    });
  }
  return [...lines.values()];
}
