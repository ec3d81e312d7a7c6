import {
  type CopyId,
  closedOf,
  forReader,
  type HandBackId,
  type HandBackShape,
  type HandInId,
  type Person,
  type PersonId,
  type Snapshot,
  type Work,
  withoutGrade,
} from '@jotmark/core';
import { type HandBackRow, HandBackTable, HandInTable, RecalledTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { filledIn } from '../document/filled.ts';
import { blindNames, documentsOf } from '../document/state.ts';
import { whose } from '../people/students.ts';
import { heardOf } from '../voice/heard.ts';
import { openedOf } from './opened.ts';

/** The midway round of a copy, where it was released. */
export async function releasedMidway(
  db: Db,
  copyId: CopyId,
): Promise<{ at: number; snapshot: Snapshot } | null> {
  const row = await find(db, HandBackTable, { copyId, round: 0 });
  return row && { at: row.handedBackAt, snapshot: row.content };
}

/** When a hand-in, or a copy to which nothing came in, went back first, also where that was recalled since; null: never. Reads no content of it. */
export async function firstBackAt(db: Db, copyId: CopyId, handInId: HandInId | null): Promise<number | null> {
  const first = async (table: typeof HandBackTable | typeof RecalledTable) => {
    const [row] = await pick(
      db
        .createQueryBuilder(table as typeof HandBackTable, 'b')
        .where('b.copyId = :copyId AND b.handInId <=> :handInId AND b.round > 0', { copyId, handInId }),
      { at: col('MIN(b.handedBackAt)', as.maybe(as.moment)) },
    );
    return row?.at ?? Number.POSITIVE_INFINITY;
  };
  const at = Math.min(await first(HandBackTable), await first(RecalledTable));
  return Number.isFinite(at) ? at : null;
}

/** The newest hand-back of a copy, as it was frozen, for one of its students; null before there is one. Reads nothing of any marking. */
export async function newestHandBack(
  db: Db,
  copyId: CopyId,
  reader: PersonId,
): Promise<HandBackShape | null> {
  const row = await db
    .createQueryBuilder(HandBackTable, 'b')
    .leftJoin('b.handIn', 'h')
    .where('b.copyId = :copyId AND b.round > 0', { copyId })
    .orderBy('h.number', 'DESC')
    .addOrderBy('b.round', 'DESC')
    .limit(1)
    .getOne();
  return row && shapeOf(db, row, reader);
}

/** A hand-back as it was frozen; for a teacher as its student has it, with all that was opened. Null: there is none like that, or it was a midway round. */
export async function handBackAsItWent(
  db: Db,
  id: HandBackId,
  reader: Person,
): Promise<HandBackShape | null> {
  const row = await find(db, HandBackTable, { id });
  if (!row || row.round === 0) return null;
  const shape = await shapeOf(db, row, reader.role === 'student' ? reader.id : null);
  const blind = reader.role === 'teacher' && ((await whose(db, row.copyId))?.blind ?? true);
  return { ...shape, documents: blindNames(blind, shape.documents) };
}

/** The last hand-back of each hand-in before the one that came back last, the newest first. */
export async function earlierBacks(db: Db, copyId: CopyId): Promise<Work['earlier']> {
  const rows = await pick(
    db
      .createQueryBuilder(HandBackTable, 'b')
      .leftJoin('b.handIn', 'h')
      .where('b.copyId = :copyId AND b.round > 0', { copyId })
      .orderBy('h.number', 'DESC')
      .addOrderBy('b.round', 'DESC'),
    {
      id: col('b.id', as.id<HandBackId>()),
      handInNumber: col('COALESCE(h.number, 0)', as.int),
      at: col('b.handedBackAt', as.moment),
    },
  );
  return rows.filter((r, i) => i > 0 && r.handInNumber !== rows[i - 1]!.handInNumber);
}

/** `reader`: null is a teacher. */
async function shapeOf(db: Db, row: HandBackRow, reader: PersonId | null): Promise<HandBackShape> {
  const opened = reader === null ? new Set<string>() : await openedOf(db, row.id, reader);
  const closed = reader === null ? 0 : closedOf(row.content, opened);
  const { copyId, handInId } = row;
  const handIn = handInId && (await find(db, HandInTable, { id: handInId }));
  return {
    id: row.id,
    handInNumber: handIn ? handIn.number : 0,
    number: row.round,
    handedBackAt: row.handedBackAt,
    firstBackAt: (await firstBackAt(db, copyId, handInId)) ?? row.handedBackAt,
    snapshot: closed ? withoutGrade(forReader(row.content, reader)) : forReader(row.content, reader),
    documents: handInId ? await documentsOf(db, handInId) : [],
    filled: handInId ? await filledIn(db, handInId) : [],
    heard: await heardOf(db, row.id, reader),
    opened: row.content.marks.flatMap((m) => (opened.has(m.id) ? [m.id] : [])),
    closed,
  };
}
