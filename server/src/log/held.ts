import {
  type AssignmentId,
  type ClassId,
  type CopyId,
  gradeOf,
  type LogBack,
  OwnGrades,
  type PersonId,
  plainScoring,
  readScoring,
} from '@jotmark/core';
import { CopyMemberTable, HandInTable, MarkingTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { BLIND } from '../people/students.ts';

/** What is marked and not handed back yet, for teachers alone; nothing of what is marked blind. */
export async function heldOf(db: Db, classId: ClassId, personId: PersonId): Promise<LogBack[]> {
  const rows = await pick(
    db
      .createQueryBuilder(CopyMemberTable, 'cm')
      .innerJoin('cm.copy', 'c')
      .innerJoin('c.assignment', 'a')
      .innerJoin(
        HandInTable.table,
        'h',
        'h.copyId = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)',
      )
      .innerJoin(MarkingTable.table, 'm', 'm.copyId = c.id AND m.number = h.number')
      .where(
        `cm.personId = :personId AND a.classId = :classId AND a.trialOf IS NULL AND NOT ${BLIND}
         AND NOT EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id AND b.round > 0)`,
        { personId, classId },
      ),
    {
      at: col('h.handedInAt', as.moment),
      assignmentId: col('a.id', as.id<AssignmentId>()),
      copyId: col('c.id', as.id<CopyId>()),
      title: col('a.title', as.text),
      category: col('a.category', as.text),
      unit: col('a.unit', as.text),
      handIn: col('h.number', as.int),
      most: col('a.most', as.maybe(as.int)),
      scoring: col('a.scoring', as.maybe(as.json(readScoring))),
      typed: col('m.grade', as.maybe(as.int)),
      computed: col('m.computed', as.maybe(as.int)),
      own: col('m.own', as.maybe(as.json((raw) => OwnGrades.safeParse(raw)))),
      closing: col('m.closing', as.text),
      done: col('m.done', as.flag),
    },
  );
  return rows
    .filter((r) => r.done || r.closing !== '' || r.typed !== null)
    .map(
      ({ scoring, typed, computed, own, done: _, ...row }): LogBack => ({
        of: 'work',
        ...row,
        held: true,
        grade: own?.[personId] ?? gradeOf(typed, computed),
        scale: (scoring ?? plainScoring(false)).scale,
        levels: [],
        voice: null,
        notes: [],
        reflected: '',
      }),
    );
}
