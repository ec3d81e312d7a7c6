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
import { In } from 'typeorm';
import { assignmentTop } from '../assignment/head.ts';
import { addMessage } from '../conversation/messages.ts';
import { unreadIn } from '../conversation/unread.ts';
import { filesOf } from '../copy/files.ts';
import { sheetsOf } from '../copy/sheets.ts';
import { readCopyState } from '../copy/state.ts';
import { textsOf } from '../copy/texts.ts';
import { CopyAnswerTable, CopyMarkTable, CopyTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { hint } from '../live/hint.ts';
import { listCopies } from '../pile/listing.ts';
import { keysOfAssignment } from '../scoring/scoring-of.ts';

/** All copies of an assignment while students work, or only those that a hint was about. */
export async function readRoom(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  only: readonly CopyId[] | null,
): Promise<Room> {
  const db = house.db.manager;
  const now = house.now();
  const { assignment, stage } = await assignmentTop(db, assignmentId, now);
  // The worksheets are the same for all; they are asked for once.
  const some = only ? null : await find(db, CopyTable, { assignmentId });
  return {
    assignment,
    stage,
    now,
    sheets: some ? await sheetsOf(db, some.id) : [],
    keys: some ? await keysOfAssignment(db, assignmentId) : {},
    rows: await roomRows(db, person, assignmentId, only, now),
  };
}

const GLIMPSE = {
  copy_id: col('x.copyId', as.id<CopyId>()),
  question: col('x.questionId', as.id<QuestionId>()),
  text: col(`LEFT(x.value, ${GLANCE})`, as.text),
  letters: col('CHAR_LENGTH(x.value)', as.int),
} as const;

async function roomRows(
  db: Db,
  person: Person,
  assignmentId: AssignmentId,
  only: readonly CopyId[] | null,
  now: number,
): Promise<RoomRow[]> {
  const unread = await unreadIn(db, person, assignmentId);
  const rows = await listCopies(db, [assignmentId], { now, only, unread });
  if (rows.length === 0) return [];
  const ids = rows.map((r) => r.copyId);
  const answers = await pick(
    db.createQueryBuilder(CopyAnswerTable, 'x').where(`x.copyId IN (:...ids) AND x.value <> ''`, { ids }),
    GLIMPSE,
  );
  const strokes = await pick(
    db
      .createQueryBuilder(CopyMarkTable, 'm')
      .where('m.copyId IN (:...ids) AND m.gone = 0', { ids })
      .groupBy('m.copyId'),
    { copyId: col('m.copyId', as.id<CopyId>()), count: col('COUNT(*)', as.int) },
  );
  const byCopy = new Map<CopyId, RoomRow['answers']>();
  for (const { copy_id, ...answer } of answers) byCopy.set(copy_id, [...(byCopy.get(copy_id) ?? []), answer]);
  const drawn = new Map(strokes.map((s) => [s.copyId, s.count]));
  return rows.map(
    ({ copyId, student, place, excused, unread, hereAt, workedAt, atQuestion }): RoomRow => ({
      copyId,
      student,
      place,
      excused,
      unread,
      hereAt,
      workedAt,
      atQuestion,
      answers: byCopy.get(copyId) ?? [],
      strokes: drawn.get(copyId) ?? 0,
    }),
  );
}

/** One copy as it stands this moment. Looking leaves no trace at the student's. */
export async function lookClosely(house: House, person: Person, copyId: CopyId): Promise<CloseLook> {
  const db = house.db.manager;
  const copy = await find(db, CopyTable, { id: copyId });
  if (!copy) throw new Fault('not-found');
  const { rows, now, assignment } = await readRoom(house, person, copy.assignmentId, [copyId]);
  const [row] = rows;
  if (!row) throw new Fault('not-found');
  return {
    row,
    now,
    assignment,
    sheets: await sheetsOf(db, copyId),
    state: await readCopyState(db, copyId),
    written: (await textsOf(db, copyId)).map(({ question, text }) => ({ question, text })),
    files: await filesOf(db, copyId),
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
    const copyIds = [...new Set(to.map((t) => t.copyId))];
    const there = await tx.getRepository(CopyTable).count({ where: { assignmentId, id: In(copyIds) } });
    if (there < copyIds.length) throw new Fault('not-found');
    for (const { id, copyId } of to)
      await addMessage(house, tx, { id, copyId, by: person.id, words, cover: false });
  });
}

/** The copy is open on a device, or no longer. Whoever walks the room hears of coming and going, not of every sign of life. */
export async function setHere(house: House, id: CopyId, here: boolean): Promise<void> {
  const db = house.db.manager;
  const now = house.now();
  const copy = await find(db, CopyTable, { id });
  if (!copy) return;
  const wasHere = copy.hereAt !== null && now - copy.hereAt < AWAY_MS;
  await update(db, CopyTable, { id }, { hereAt: here ? now : null });
  if (wasHere !== here)
    await hint(db, { assignmentId: copy.assignmentId, copyId: id, kind: 'here', at: now });
}
