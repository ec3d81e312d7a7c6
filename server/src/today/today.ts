import { type Person, type PileRow, Place, type TodayPile, waits } from '@jotmark/core';
import { HEAD_COLUMNS, type HeadColumns, headOf } from '../assignment/head.ts';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';
import { fullName } from '../people/blind.ts';
import { COPY_COLUMNS, COPY_FROM, rowOf } from '../pile/pile.ts';

/** All piles of a teacher, the newest first; core puts them in the order to do them. */
export async function readToday(house: House, person: Person): Promise<TodayPile[]> {
  const heads: HeadColumns[] = await house.db.query(
    `SELECT ${HEAD_COLUMNS} FROM assignment a JOIN school_class k ON k.id = a.class_id
     JOIN membership t ON t.class_id = a.class_id AND t.role = 'teacher' AND t.person_id = ?
     WHERE a.opens_at IS NOT NULL AND a.put_away_at IS NULL ORDER BY a.created_at DESC, a.id DESC LIMIT 200`,
    [person.id],
  );
  if (heads.length === 0) return [];
  const copies = await house.db.query(
    `SELECT ${COPY_COLUMNS}, c.assignment_id FROM ${COPY_FROM} WHERE c.assignment_id IN (?) ORDER BY p.family, p.given, c.id`,
    [heads.map((h) => h.assignment_id), heads.map((h) => h.assignment_id)],
  );
  const pace = await paceOf(house, person);
  const now = house.now();
  return heads.map((head): TodayPile => {
    const own: RawRow[] = copies.filter((c: RawRow) => c.assignment_id === head.assignment_id);
    const rows: PileRow[] = own.map((c) => rowOf(c, now));
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
            page: own.find((c) => c.copy_id === next.copyId)?.left_at ?? 0,
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
async function paceOf(house: House, person: Person): Promise<number | null> {
  const rows: { s: number }[] = await house.db.query(
    `SELECT TIMESTAMPDIFF(SECOND, begun_at, done_at) AS s FROM marking WHERE marker_id = ? AND done_at IS NOT NULL ORDER BY done_at DESC LIMIT 100`,
    [person.id],
  );
  const taken = rows
    .map((r) => Number(r.s))
    .filter((s) => s > 0 && s < AWAY_S)
    .sort((a, b) => a - b);
  return taken.length < 3 ? null : Math.round(taken[taken.length >> 1]!);
}
