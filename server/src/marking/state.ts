import {
  type ChangeId,
  type CopyId,
  EMPTY_SHEET,
  eachSlipField,
  type HandInId,
  type MarkId,
  type MarkingId,
  type MarkingState,
  readMark,
  restoreSlip,
  type Sheet,
  SLIP_FIELDS,
  type SlipState,
  scoresToStartFrom,
} from '@jotmark/core';
import { In } from 'typeorm';
import {
  HandInTable,
  MarkingChangeTable,
  type MarkingRow,
  MarkingTable,
  MarkTable,
  ScoreTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne, type Reader } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { backBefore } from './before.ts';

/** The slip as it stands; an empty one before anybody began. */
export function slipOf(row: Pick<MarkingRow, never> | null): SlipState {
  if (!row) return EMPTY_SHEET.slip as SlipState;
  const values = row as Readonly<Record<string, unknown>>;
  return eachSlipField((field) => ({
    value: restoreSlip(field, values[field]),
    version: (values[`${field}Version`] as ChangeId | undefined) ?? null,
  })) as SlipState;
}

/** The slip's columns of the table `m`, as a select gives them that is read by `SLIP_ROW`. */
export const SLIP_COLUMNS = SLIP_FIELDS.map((f) => `m.${f} AS ${f}, m.${f}_version AS ${f}Version`).join(
  ', ',
);
const anything: Reader<unknown> = (value) => value;
export const SLIP_ROW: Readonly<Record<string, Reader<unknown>>> = Object.fromEntries(
  SLIP_FIELDS.flatMap((f) => [
    [f, anything],
    [`${f}Version`, as.maybe(as.id<ChangeId>())],
  ]),
);

/** The marking of a hand-in as it stands. Nobody has begun: number 0, and what was scored before anything came in. */
export async function readMarking(db: Db, handInId: HandInId): Promise<MarkingState> {
  const marking = await find(db, MarkingTable, { handInId });
  if (marking) return stateOf(db, marking);
  const handIn = await find(db, HandInTable, { id: handInId });
  return handIn ? carriedState(db, handIn.copyId, handIn.number) : stateOf(db, null);
}

/** The marking of a copy to which nothing came in. */
export async function readCopyMarking(db: Db, copyId: CopyId): Promise<MarkingState> {
  return stateOf(db, await find(db, MarkingTable, { copyId, number: 0 }));
}

/**
 * What a marking of a hand-in starts from: the scores that the hand-in before went back with, or the final scores, grade and words that a copy got before
 * anything came in. Nothing of it has a version: the first
 * change makes it the marking's own (see `lock.ts`).
 */
async function carriedState(db: Db, copyId: CopyId, number: number): Promise<MarkingState> {
  const earlier = await backBefore(db, copyId, number);
  if (earlier)
    return {
      seq: 0,
      marks: [],
      scores: scoresToStartFrom(earlier).map(([of, score]) => ({ of, score, version: null })),
      slip: slipOf(null),
    };
  const before = await readCopyMarking(db, copyId);
  const { slip } = before;
  const bare = <T>(field: { value: T }): { value: T; version: null } => ({
    value: field.value,
    version: null,
  });
  return {
    seq: 0,
    marks: [],
    scores: before.scores
      .filter((s) => !s.of.startsWith('midway:') && s.score)
      .map((s) => ({ ...s, version: null })),
    slip: {
      ...slipOf(null),
      grade: bare(slip.grade),
      closing: bare(slip.closing),
      lifted: bare(slip.lifted),
    },
  };
}

/** The same of a marking that is at hand. The number is read first: what is read after it is at least as new. */
export async function stateOf(db: Db, marking: MarkingRow | null): Promise<MarkingState> {
  if (!marking) return { seq: 0, marks: [], scores: [], slip: slipOf(null) };
  const seq = await newestChange(db, marking.id);
  const marks = await db.getRepository(MarkTable).find({ where: { markingId: marking.id } });
  const scores = await db.getRepository(ScoreTable).find({ where: { markingId: marking.id } });
  return {
    seq,
    marks: marks.map(({ id, version, value }) => ({ id, version, mark: value })),
    scores: scores.map(({ subject, version, value }) => ({ of: subject, version, score: value })),
    slip: slipOf(marking),
  };
}

/** The same of many, for who holds their locks and needs no number: two statements however many they are. */
export async function statesOf(
  db: Db,
  markings: readonly MarkingRow[],
): Promise<ReadonlyMap<MarkingId, MarkingState>> {
  const out = new Map<MarkingId, MarkingState>(
    markings.map((m) => [m.id, { seq: 0, marks: [], scores: [], slip: slipOf(m) }]),
  );
  if (markings.length === 0) return out;
  const ids = markings.map((m) => m.id);
  const markingId = col('k.markingId', as.id<MarkingId>());
  // Read as rows: thousands of marks are no entities that anything would be done with.
  const marks = await pick(db.createQueryBuilder(MarkTable, 'k').where('k.markingId IN (:...ids)', { ids }), {
    markingId,
    id: col('k.id', as.id<MarkId>()),
    version: col('k.version', as.id<ChangeId>()),
    mark: col('k.value', as.maybe(as.json((raw) => ({ ok: true, value: readMark(raw) })))),
  });
  for (const { markingId, ...mark } of marks) out.get(markingId)!.marks.push(mark);
  const scores = await db.getRepository(ScoreTable).find({ where: { markingId: In(ids) } });
  for (const { markingId, subject, version, value } of scores)
    out.get(markingId)!.scores.push({ of: subject, version, score: value });
  return out;
}

/** The numbers of the newest changes of these hand-ins' markings, for the desks on which they lie. */
export const markingNumbers = (db: Db, handInIds: readonly string[]) =>
  pick(
    db
      .createQueryBuilder(MarkingChangeTable, 'x')
      .innerJoin('x.marking', 'm')
      .where('m.handInId IN (:...handInIds)', { handInIds })
      .groupBy('m.handInId'),
    { id: col('m.handInId', as.id<HandInId>()), seq: col('MAX(x.seq)', as.int) },
  );

async function newestChange(db: Db, markingId: MarkingId): Promise<number> {
  const row = await pickOne(
    db.createQueryBuilder(MarkingChangeTable, 'x').where('x.markingId = :markingId', { markingId }),
    { seq: col('MAX(x.seq)', as.count) },
  );
  return row!.seq;
}

export function sheetOf(state: MarkingState): Sheet {
  return {
    marks: new Map(state.marks.map((m) => [m.id, { value: m.mark, version: m.version }])),
    slip: state.slip,
    scores: new Map(state.scores.map((s) => [s.of, { value: s.score, version: s.version }])),
    answers: EMPTY_SHEET.answers,
    texts: EMPTY_SHEET.texts,
  };
}
