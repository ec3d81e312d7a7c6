import {
  type AssignmentId,
  type CopyId,
  freezeMarking,
  type HandBackHow,
  type HandInId,
  type MarkingId,
  type Person,
  type RoundScores,
  roundOf,
  type ScoredBy,
  type Snapshot,
  saysSomething,
  standingScores,
} from '@jotmark/core';
import { In } from 'typeorm';
import {
  AssignmentTable,
  CopyTable,
  HandBackTable,
  type MarkingRow,
  MarkingTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { turnsOfMany } from '../document/pages.ts';
import { backBefore } from '../marking/before.ts';
import { readsOf, scoredMarkings } from '../marking/scored.ts';
import { sheetOf, statesOf } from '../marking/state.ts';
import { hungRubric } from '../rubric/hung.ts';

/** All that the scores of a marking are made of, read in the transaction that holds it. */
export async function scoringFor(tx: Db, markingId: MarkingId): Promise<ScoredBy> {
  const [one] = await scoredMarkings(readsOf(tx), 'm.id = ?', [markingId]);
  const { most, scoring, asked, late, rubric } = one!.scored;
  const copy = (await find(tx, CopyTable, { id: one!.copyId }))!;
  const name = await rubricName(tx, copy.assignmentId);
  return { most, scoring, asked, late, rubric: rubric && { name, rubric } };
}

async function rubricName(tx: Db, assignmentId: AssignmentId): Promise<string> {
  const { rubricVersionId } = (await find(tx, AssignmentTable, { id: assignmentId }))!;
  return (await hungRubric(tx, rubricVersionId))?.name ?? '';
}

/** A marking under its lock, and the hand-in it is of; null: nothing came in. */
export interface ToFreeze {
  readonly copyId: CopyId;
  readonly handInId: HandInId | null;
  readonly marking: MarkingRow;
}

/** What goes back of markings of one assignment, frozen. What they are made of is read in a handful of statements, however many they are (bench: back). */
export async function freezeAll(
  tx: Db,
  person: Pick<Person, 'given' | 'family'>,
  assignmentId: AssignmentId,
  some: readonly ToFreeze[],
  how: Pick<HandBackHow, 'unfinished' | 'gradeAfter' | 'reflect'>,
): Promise<ReadonlyMap<MarkingId, Snapshot>> {
  if (some.length === 0) return new Map();
  const markings = some.map((s) => s.marking);
  const name = await rubricName(tx, assignmentId);
  const states = await statesOf(tx, markings);
  const marks = new Map([...states].map(([id, state]) => [id, state.marks.flatMap((m) => m.mark ?? [])]));
  const ids = markings.map((m) => m.id);
  const scored = new Map(
    (await scoredMarkings(readsOf(tx), 'm.id IN (?)', [ids], marks)).map((m) => [m.id, m.scored]),
  );
  const turns = await turnsOfMany(
    tx,
    some.flatMap((s) => s.handInId ?? []),
  );
  const rubric = [...scored.values()][0]?.rubric ?? null;
  const midway = rubric ? await midwayOf(tx, rubric, some) : new Map<CopyId, RoundScores>();
  const earlier = await earlierGrades(tx, some);
  const out = new Map<MarkingId, Snapshot>();
  for (const { copyId, handInId, marking } of some) {
    const { most, scoring, asked, late, rubric: own } = scored.get(marking.id)!;
    const before = await backBefore(tx, copyId, marking.number);
    out.set(
      marking.id,
      freezeMarking(sheetOf(states.get(marking.id)!), {
        by: { most, scoring, asked, late, rubric: own && { name, rubric: own } },
        earlier: (earlier.get(copyId) ?? []).filter((e) => e.number < marking.number).map((e) => e.grade),
        midway: midway.get(copyId) ?? null,
        markedBy: `${person.given} ${person.family}`,
        turns: (handInId && turns.get(handInId)) || {},
        how,
        before: before?.marks ?? [],
      }),
    );
  }
  return out;
}

/** The midway rounds of copies, where anything was said in them. */
async function midwayOf(
  tx: Db,
  rubric: Parameters<typeof roundOf>[0],
  some: readonly ToFreeze[],
): Promise<Map<CopyId, RoundScores>> {
  const early = await tx
    .getRepository(MarkingTable)
    .find({ where: { copyId: In(some.map((s) => s.copyId)), number: 0 } });
  const states = await statesOf(tx, early);
  const out = new Map<CopyId, RoundScores>();
  for (const m of early) {
    const sheet = sheetOf(states.get(m.id)!);
    const round = roundOf(rubric, standingScores(sheet), 'midway', sheet.slip.midway.value);
    if (saysSomething(round)) out.set(m.copyId, round);
  }
  return out;
}

/** What each hand-in of these copies went back with last, in their order. */
async function earlierGrades(
  tx: Db,
  some: readonly ToFreeze[],
): Promise<Map<CopyId, { number: number; grade: number | null }[]>> {
  const rows = await pick(
    tx
      .createQueryBuilder(HandBackTable, 'b')
      .innerJoin('b.handIn', 'h')
      .where('b.copyId IN (:...copyIds) AND b.round > 0 AND b.unfinished = 0', {
        copyIds: some.map((s) => s.copyId),
      })
      .orderBy('h.number')
      .addOrderBy('b.round'),
    {
      copyId: col('b.copyId', as.id<CopyId>()),
      number: col('h.number', as.int),
      grade: col('b.grade', as.maybe(as.int)),
    },
  );
  const out = new Map<CopyId, { number: number; grade: number | null }[]>();
  for (const { copyId, number, grade } of rows) {
    const before = (out.get(copyId) ?? []).filter((e) => e.number !== number);
    out.set(copyId, [...before, { number, grade }]);
  }
  return out;
}
