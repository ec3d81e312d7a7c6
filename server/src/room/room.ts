import {
  type AssignmentId,
  AWAY_MS,
  type CloseLook,
  type CopyId,
  GLANCE,
  type MessageId,
  type Person,
  type QuestionId,
  type Room,
  type RoomRow,
} from '@jotmark/core';
import { HEAD_COLUMNS, headOf, stageOf } from '../assignment/head.ts';
import { addMessage, UNREAD_COLUMN } from '../conversation/messages.ts';
import { readCopyState } from '../copy/state.ts';
import type { RawRow } from '../database/raw.ts';
import { inTransaction } from '../database/transaction.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { hintCopy } from '../live/hint.ts';
import { COPY_COLUMNS, COPY_FROM, rowOf } from '../pile/pile.ts';
import { filesOf, sheetsOf } from '../work/work.ts';

/** All copies of an assignment while students work, or only those that a hint was about. */
export async function readRoom(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  only: readonly CopyId[] | null,
): Promise<Room> {
  const [head] = await house.db.query(
    `SELECT ${HEAD_COLUMNS}, a.opens_at FROM assignment a JOIN school_class k ON k.id = a.class_id WHERE a.id = ?`,
    [assignmentId],
  );
  if (!head) throw new Fault('not-found');
  const rows = await roomRows(house, person, assignmentId, only);
  const [some] = await house.db.query('SELECT id FROM copy WHERE assignment_id = ? ORDER BY id LIMIT 1', [
    assignmentId,
  ]);
  return {
    assignment: headOf(head),
    stage: stageOf(head.opens_at, house.now()),
    now: house.now(),
    sheets: some && !only ? await sheetsOf(house, some.id) : [],
    rows,
  };
}

async function roomRows(
  house: House,
  person: Person,
  assignmentId: string,
  only: readonly CopyId[] | null,
): Promise<RoomRow[]> {
  const some = only ? ' AND c.id IN (?)' : '';
  const rows: RawRow[] = await house.db.query(
    `SELECT ${COPY_COLUMNS}, ${UNREAD_COLUMN} AS unread, c.here_at, c.worked_at, c.at_question FROM ${COPY_FROM}
     WHERE c.assignment_id = ?${some} ORDER BY p.family, p.given, c.id`,
    [person.id, person.id, [assignmentId], assignmentId, ...(only ? [only] : [])],
  );
  if (rows.length === 0) return [];
  const ids = rows.map((r) => r.copy_id);
  const answers: RawRow[] = await house.db.query(
    `SELECT copy_id, question_id, LEFT(value, ${GLANCE}) AS text, CHAR_LENGTH(value) AS letters FROM copy_answer WHERE copy_id IN (?) AND value <> ''`,
    [ids],
  );
  const strokes: RawRow[] = await house.db.query(
    'SELECT copy_id, COUNT(*) AS n FROM copy_mark WHERE copy_id IN (?) AND gone = 0 GROUP BY copy_id',
    [ids],
  );
  const byCopy = grouped(answers);
  const drawn = new Map(strokes.map((s) => [s.copy_id, Number(s.n)]));
  const now = house.now();
  return rows.map((r): RoomRow => {
    const { copyId, student, place, excused, unread } = rowOf(r, now);
    return {
      copyId,
      student,
      place,
      excused,
      unread,
      hereAt: r.here_at?.getTime() ?? null,
      workedAt: r.worked_at?.getTime() ?? null,
      atQuestion: r.at_question as QuestionId | null,
      answers: (byCopy.get(copyId) ?? []).map((a) => ({
        question: a.question_id,
        text: a.text,
        letters: Number(a.letters),
      })),
      strokes: drawn.get(copyId) ?? 0,
    };
  });
}

function grouped(rows: readonly RawRow[]): Map<string, RawRow[]> {
  const out = new Map<string, RawRow[]>();
  for (const row of rows) out.set(row.copy_id, [...(out.get(row.copy_id) ?? []), row]);
  return out;
}

/** One copy as it stands this moment. Looking leaves no trace at the student's. */
export async function lookClosely(house: House, person: Person, copyId: CopyId): Promise<CloseLook> {
  const [copy] = await house.db.query('SELECT assignment_id FROM copy WHERE id = ?', [copyId]);
  const room = await readRoom(house, person, copy.assignment_id, [copyId]);
  const [row] = room.rows;
  if (!row) throw new Fault('not-found');
  return {
    row,
    now: room.now,
    assignment: room.assignment,
    sheets: await sheetsOf(house, copyId),
    state: await readCopyState(house.db, copyId),
    files: await filesOf(house, copyId),
  };
}

/** The same words to many, all in one transaction; copies of other assignments are not found. */
export async function sayToMany(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  words: string,
  to: readonly { id: MessageId; copyId: CopyId }[],
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const rows = await tx.query('SELECT id FROM copy WHERE assignment_id = ? AND id IN (?)', [
      assignmentId,
      to.map((t) => t.copyId),
    ]);
    if (rows.length < new Set(to.map((t) => t.copyId)).size) throw new Fault('not-found');
    for (const { id, copyId } of to)
      await addMessage(house, tx, { id, copyId, by: person.id, words, cover: false });
  });
}

/** The copy is open on a device, or no longer. Whoever walks the room hears of coming and going, not of every sign of life. */
export async function setHere(house: House, copyId: string, here: boolean): Promise<void> {
  const now = new Date(house.now());
  const [before] = await house.db.query('SELECT here_at FROM copy WHERE id = ?', [copyId]);
  const wasHere = before?.here_at != null && now.getTime() - before.here_at.getTime() < AWAY_MS;
  await house.db.query('UPDATE copy SET here_at = ? WHERE id = ?', [here ? now : null, copyId]);
  if (wasHere !== here) await hintCopy(house.db.manager, copyId, 'here', now);
}
