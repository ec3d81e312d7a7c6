import { fullName, type Person, Place, type TodayPile, waits } from '@jotmark/core';
import { assignmentsWithClass, HEAD, headOf } from '../assignment/head.ts';
import { MarkingTable, MembershipTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import type { House } from '../house.ts';
import { listCopies } from '../pile/listing.ts';

/** All piles of a teacher, the newest first; core puts them in the order to do them. */
export async function readToday(house: House, person: Person): Promise<TodayPile[]> {
  const db = house.db.manager;
  const heads = await pick(
    assignmentsWithClass(db)
      .innerJoin(
        MembershipTable.table,
        't',
        `t.classId = a.classId AND t.role = 'teacher' AND t.personId = :me`,
        {
          me: person.id,
        },
      )
      .where('a.opensAt IS NOT NULL AND a.putAwayAt IS NULL AND k.archivedAt IS NULL')
      .orderBy('a.createdAt', 'DESC')
      .addOrderBy('a.id', 'DESC')
      .limit(200),
    HEAD,
  );
  const now = house.now();
  const copies = await listCopies(
    db,
    heads.map((h) => h.assignmentId),
    { now },
  );
  const pace = await paceOf(db, person);
  return heads.map((head): TodayPile => {
    const rows = copies.filter((c) => c.assignmentId === head.assignmentId);
    const waiting = rows.filter((r) => waits(r.place));
    const next =
      waiting.find((r) => r.place === 'being-marked') ??
      waiting.find((r) => r.place === 'in-again') ??
      waiting[0];
    return {
      assignment: headOf(head),
      counts: Object.fromEntries(
        Place.options.map((p) => [p, rows.filter((r) => r.place === p).length]),
      ) as TodayPile['counts'],
      overdue: rows.filter((r) => r.overdue).length,
      next: next
        ? {
            copyId: next.copyId,
            name: fullName(next.student),
            begun: next.place === 'being-marked',
            page: next.leftAt,
          }
        : null,
      oldestWaiting: waiting.length ? Math.min(...waiting.map((r) => r.handedInAt ?? now)) : null,
      pace,
    };
  });
}

/** Longer than this between the first change and "marked", the teacher was away. */
const AWAY_S = 30 * 60;

/** Median seconds from a copy's first change to its being marked, of this teacher's last hundred; null before there are three. */
async function paceOf(db: Db, person: Person): Promise<number | null> {
  const rows = await pick(
    db
      .createQueryBuilder(MarkingTable, 'm')
      .where('m.markerId = :me AND m.doneAt IS NOT NULL', { me: person.id })
      .orderBy('m.doneAt', 'DESC')
      .limit(100),
    { begunAt: col('m.begunAt', as.moment), doneAt: col('m.doneAt', as.moment) },
  );
  const taken = rows
    .map((r) => Math.round((r.doneAt - r.begunAt) / 1000))
    .filter((s) => s > 0 && s < AWAY_S)
    .sort((a, b) => a - b);
  return taken.length < 3 ? null : taken[taken.length >> 1]!;
}
