import {
  type AssignmentId,
  type ClassId,
  type CopyId,
  closedOf,
  forReader,
  type HandBackId,
  type LogBack,
  type MarkId,
  MessageAct,
  MessagePlace,
  type PersonId,
  readSnapshot,
  type SaidBack,
  tellBack,
  withoutGrade,
} from '@jotmark/core';
import {
  CopyMemberTable,
  DocumentTable,
  HandBackTable,
  MessageTable,
  OpenedTable,
  PersonTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick, type RowOfPicks } from '../database/pick.ts';

const BACK = {
  personId: col('cm.personId', as.id<PersonId>()),
  id: col('b.id', as.id<HandBackId>()),
  at: col('b.handedBackAt', as.moment),
  firstAt: col(
    '(SELECT MIN(f.handed_back_at) FROM hand_back f WHERE f.copy_id = b.copy_id AND f.round > 0 AND f.hand_in_id <=> b.hand_in_id)',
    as.moment,
  ),
  content: col('b.content', as.json(readSnapshot)),
  copyId: col('b.copyId', as.id<CopyId>()),
  handIn: col('COALESCE(h.number, 0)', as.int),
  assignmentId: col('a.id', as.id<AssignmentId>()),
  title: col('a.title', as.text),
  category: col('a.category', as.text),
  unit: col('a.unit', as.text),
} as const;

/** The hand-back that stands now of each hand-in in a class; of one student, or of all. */
const standing = (db: Db, classId: ClassId, personId: PersonId | null) =>
  db
    .createQueryBuilder(HandBackTable, 'b')
    .innerJoin('b.copy', 'c')
    .innerJoin(
      CopyMemberTable.table,
      'cm',
      `cm.copyId = c.id${personId === null ? '' : ' AND cm.personId = :personId'}`,
      { personId },
    )
    .innerJoin('c.assignment', 'a', 'a.classId = :classId AND a.trialOf IS NULL', { classId })
    .leftJoin('b.handIn', 'h')
    .where(
      'b.round > 0 AND b.round = (SELECT MAX(x.round) FROM hand_back x WHERE x.copy_id = b.copy_id AND x.hand_in_id <=> b.hand_in_id)',
    )
    .orderBy('b.handedBackAt');

/**
 * What went back to one student in a class, hand-in by hand-in, with what became of each note. It reads what was frozen and what was said, and nothing of any
 * marking. For the student a grade that waits for notes to be opened is left out.
 */
export async function backsOf(
  db: Db,
  classId: ClassId,
  personId: PersonId,
  forStudent: boolean,
): Promise<LogBack[]> {
  const rows = await pick(standing(db, classId, personId), BACK);
  const said = await saidOn(db, [...new Set(rows.map((r) => r.copyId))]);
  const opened = forStudent
    ? await openedBy(
        db,
        rows.map((r) => r.id),
        personId,
      )
    : new Map<string, Set<string>>();
  return rows.map((row) =>
    told(row, said, forStudent && closedOf(row.content, opened.get(row.id) ?? new Set()) > 0),
  );
}

/** The same of every student of a class, for its teachers: in as many statements as for one. */
export async function backsIn(db: Db, classId: ClassId): Promise<Map<PersonId, LogBack[]>> {
  const rows = await pick(standing(db, classId, null), BACK);
  const said = await saidOn(db, [...new Set(rows.map((r) => r.copyId))]);
  const out = new Map<PersonId, LogBack[]>();
  for (const row of rows) out.set(row.personId, [...(out.get(row.personId) ?? []), told(row, said, false)]);
  return out;
}

/** `closed`: the grade waits for notes to be opened. */
function told(
  { id: _, personId, firstAt, content, ...row }: RowOfPicks<typeof BACK>,
  said: ReadonlyMap<CopyId, readonly SaidBack[]>,
  closed: boolean,
): LogBack {
  const own = forReader(content, personId);
  return {
    of: 'work',
    ...row,
    held: false,
    ...tellBack(
      closed ? withoutGrade(own) : own,
      (said.get(row.copyId) ?? []).filter((s) => s.at >= firstAt),
    ),
  };
}

async function openedBy(
  db: Db,
  ids: readonly HandBackId[],
  personId: PersonId,
): Promise<Map<string, Set<string>>> {
  const out = new Map<string, Set<string>>();
  if (ids.length === 0) return out;
  const rows = await pick(
    db
      .createQueryBuilder(OpenedTable, 'o')
      .where('o.handBackId IN (:...ids) AND o.personId = :personId', { ids, personId }),
    { id: col('o.handBackId', as.id<HandBackId>()), what: col('o.what', as.id<MarkId>()) },
  );
  for (const { id, what } of rows) out.set(id, (out.get(id) ?? new Set()).add(what));
  return out;
}

/** What was said at marks of these copies, or to their questions to think about, in the order of time. */
async function saidOn(db: Db, copyIds: readonly CopyId[]): Promise<Map<CopyId, SaidBack[]>> {
  const out = new Map<CopyId, SaidBack[]>();
  if (copyIds.length === 0) return out;
  const rows = await pick(
    db
      .createQueryBuilder(MessageTable, 'm')
      .innerJoin(PersonTable.table, 'p', 'p.id = m.byId')
      .leftJoin(DocumentTable.table, 'd', `d.id = JSON_VALUE(m.place, '$.document')`)
      .where(
        `m.copyId IN (:...copyIds) AND m.withdrawnAt IS NULL AND (m.act IS NOT NULL OR JSON_VALUE(m.place, '$.mark') IS NOT NULL)`,
        { copyIds },
      )
      .orderBy('m.at')
      .addOrderBy('m.id'),
    {
      copyId: col('m.copyId', as.id<CopyId>()),
      at: col('m.at', as.moment),
      place: col('m.place', as.maybe(as.json((raw) => MessagePlace.safeParse(raw)))),
      act: col('m.act', as.maybe(as.oneOf(MessageAct.options))),
      words: col('m.words', as.text),
      typed: col('d.versionId IS NOT NULL', as.flag),
      byStudent: col(`p.role = 'student'`, as.flag),
    },
  );
  for (const { copyId, place, ...row } of rows)
    out.set(copyId, [...(out.get(copyId) ?? []), { ...row, mark: place?.mark ?? null }]);
  return out;
}
