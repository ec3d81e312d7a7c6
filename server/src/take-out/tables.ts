import {
  type ClassId,
  type FeedbackLog,
  logGrids,
  markBookGrids,
  type OutGrid,
  type OutOrder,
  type Person,
  type PersonId,
  registerName,
  scoresGrid,
} from '@jotmark/core';
import { MembershipTable, ReportTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { readLog } from '../log/log.ts';
import { readMarkBook } from '../mark-book/mark-book.ts';
import { readPile } from '../pile/pile.ts';
import { pileScores } from '../scoring/pile-scores.ts';

export interface Tables {
  /** What the file is called, without its ending. */
  readonly name: string;
  readonly grids: readonly OutGrid[];
}
type Order<W extends OutOrder['what']> = Extract<OutOrder, { what: W }>;

/** The tables of what goes out as a sheet. */
export async function tablesOf(
  house: House,
  person: Person,
  order: Order<'mark-book' | 'logs' | 'log' | 'scores' | 'reports'>,
): Promise<Tables> {
  switch (order.what) {
    case 'mark-book': {
      const book = await readMarkBook(house, order.classId);
      return { name: `${book.className}, mark book`, grids: markBookGrids(book) };
    }
    case 'scores': {
      const { assignment, blind, rows } = await readPile(house, person, order.assignmentId);
      const scores = await pileScores(house, order.assignmentId, { ...assignment, blind, rows });
      return { name: `${scores.className}, ${scores.title}, scores`, grids: [scoresGrid(scores)] };
    }
    case 'log': {
      const log = await readLog(house, person, order.classId, order.personId);
      return { name: `${registerName(log.student)}, feedback log`, grids: logGrids([log]) };
    }
    case 'logs': {
      const logs = await logsOf(house, person, order.classId);
      return { name: `${logs[0]?.className ?? 'Class'}, feedback log`, grids: logGrids(logs) };
    }
    case 'reports': {
      const reports = await reportsIn(house.db.manager, order.classId, order.term);
      return {
        name: `Reports, ${order.term}`,
        grids: [
          {
            name: 'Reports',
            head: ['Student', 'Term', 'Report'],
            rows: reports.map((r) => [registerName(r), order.term, r.words]),
          },
        ],
      };
    }
  }
}

/** The logs of all students of a class, by their names. */
async function logsOf(house: House, person: Person, classId: ClassId): Promise<FeedbackLog[]> {
  const logs: FeedbackLog[] = [];
  for (const { id } of await studentsIn(house.db.manager, classId))
    logs.push(await readLog(house, person, classId, id));
  if (logs.length === 0) throw new Fault('nothing-to-take-out');
  return logs;
}

const studentsIn = (db: Db, classId: ClassId) =>
  pick(
    db
      .createQueryBuilder(MembershipTable, 'ms')
      .innerJoin('ms.person', 'p')
      .where(`ms.classId = :classId AND ms.role = 'student' AND ms.leftAt IS NULL`, { classId })
      .orderBy('p.family')
      .addOrderBy('p.given'),
    {
      id: col('p.id', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
    },
  );

/** What was written about each student of a class for a term; who has none has an empty one, so that one sees who is missing. */
export async function reportsIn(db: Db, classId: ClassId, term: string) {
  const written = await pick(
    db
      .createQueryBuilder(ReportTable, 'r')
      .where('r.classId = :classId AND r.term = :term', { classId, term }),
    { id: col('r.personId', as.id<PersonId>()), words: col('r.words', as.text) },
  );
  const words = new Map(written.map((r) => [r.id, r.words]));
  return (await studentsIn(db, classId)).map((s) => ({ ...s, words: words.get(s.id) ?? '' }));
}
