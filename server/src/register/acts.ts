import { ACTS_SHOWN, type ActLine, type ClassId, fullName, LoggedAct, type PersonId } from '@jotmark/core';
import { LessThan } from 'typeorm';
import {
  type ActLogRow,
  ActLogTable,
  AssignmentTable,
  CopyTable,
  PersonTable,
} from '../database/entities/index.ts';
import { as, col, pick } from '../database/pick.ts';
import { insert } from '../database/write.ts';
import type { House } from '../house.ts';

const DAY_MS = 86_400_000;
/** Old lines are swept so often at most, by each server. */
const SWEEP_MS = 3_600_000;
const swept = new WeakMap<House, number>();

/** Keeps that somebody looked at something or changed it; what is older than the school wants it goes. */
export async function logAct(house: House, row: Omit<ActLogRow, 'seq' | 'at'>): Promise<void> {
  const at = house.now();
  await insert(house.db.manager, ActLogTable, { ...row, at } as ActLogRow);
  if (at - (swept.get(house) ?? 0) < SWEEP_MS) return;
  swept.set(house, at);
  const before = at - house.settings.keepActsDays * DAY_MS;
  await house.db.manager.getRepository(ActLogTable).delete({ at: LessThan(before) });
}

/** Who looked at or changed what of a class, its work and its copies, the newest first. Of blind copies it is not told whose they are. */
export async function actsOf(house: House, classId: ClassId): Promise<ActLine[]> {
  const rows = await pick(
    house.db.manager
      .createQueryBuilder(ActLogTable, 'l')
      .leftJoin(CopyTable.table, 'c', 'c.id = l.copyId')
      .leftJoin(AssignmentTable.table, 'a', 'a.id = COALESCE(l.assignmentId, c.assignmentId)')
      .leftJoin(PersonTable.table, 'p', 'p.id = l.byId')
      .leftJoin(PersonTable.table, 's', 's.id = l.personId')
      .where('l.classId = :classId OR a.classId = :classId', { classId })
      .orderBy('l.seq', 'DESC')
      .limit(ACTS_SHOWN),
    {
      at: col('l.at', as.moment),
      byId: col('l.byId', as.id<PersonId>()),
      act: col('l.act', as.oneOf(LoggedAct.options)),
      title: col(`COALESCE(a.title, '')`, as.text),
      given: col('p.given', as.maybe(as.text)),
      family: col('p.family', as.maybe(as.text)),
      aboutGiven: col('s.given', as.maybe(as.text)),
      aboutFamily: col('s.family', as.maybe(as.text)),
    },
  );
  return rows.map(({ at, act, title, given, family, aboutGiven, aboutFamily }) => ({
    at,
    act,
    title,
    by: fullName({ given: given ?? '', family: family ?? '' }),
    about: fullName({ given: aboutGiven ?? '', family: aboutFamily ?? '' }),
  }));
}
