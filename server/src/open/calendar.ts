import type { AssignmentId, CopyId, Person, PersonId } from '@jotmark/core';
import ical, { ICalCalendarMethod } from 'ical-generator';
import {
  AssignmentTable,
  ClassTable,
  CopyMemberTable,
  MembershipTable,
  PersonTable,
} from '../database/entities/index.ts';
import { as, col, type Db, exists, pick } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { behindAddress } from './address.ts';

/** Who is in a class now, as a teacher or a student, may have its dates. */
export async function mustBeInClass(db: Db, person: Person, classId: string): Promise<void> {
  const there = await exists(
    db
      .createQueryBuilder(MembershipTable, 'm')
      .where('m.classId = :classId AND m.personId = :me AND m.leftAt IS NULL', { classId, me: person.id }),
  );
  if (!there) throw new Fault('not-found');
}

/**
 * The due dates of a class as iCalendar (RFC 5545), as whoever asked for the address sees them: a student their own dates and nothing that is not open yet. Who has
 * left the class gets none any more.
 */
export async function dueCalendar(house: House, token: string): Promise<string> {
  const db = house.db.manager;
  const { classId, personId } = await behindAddress(db, token, 'calendar');
  const [row, person] = [
    await find(db, ClassTable, { id: classId }),
    await find(db, PersonTable, { id: personId }),
  ];
  if (!row || !person) throw new Fault('not-found');
  await mustBeInClass(db, person, classId);
  const works =
    person.role === 'student'
      ? await ownDates(db, classId, personId, house.now())
      : await allDates(db, classId);
  const calendar = ical({ name: `${row.name}, due dates`, method: ICalCalendarMethod.PUBLISH, ttl: 3600 });
  calendar.prodId({ company: 'Jotmark', product: 'due dates', language: 'EN' });
  for (const w of works)
    calendar.createEvent({
      id: `${w.id}@jotmark`,
      start: new Date(w.due),
      end: new Date(w.due),
      stamp: new Date(w.due),
      summary: `Due: ${w.title}`,
      description: [w.category, w.unit].filter(Boolean).join(', '),
      url: `${house.settings.publicUrl}${w.copyId ? `/work/${w.copyId}` : `/piles/${w.id}`}`,
    });
  return calendar.toString();
}

interface Due {
  readonly id: AssignmentId;
  readonly title: string;
  readonly category: string;
  readonly unit: string;
  readonly due: number;
  readonly copyId: CopyId | null;
}

const WORK = {
  id: col('a.id', as.id<AssignmentId>()),
  title: col('a.title', as.text),
  category: col('a.category', as.text),
  unit: col('a.unit', as.text),
} as const;

const ownDates = (db: Db, classId: string, personId: PersonId, now: number): Promise<Due[]> =>
  pick(
    db
      .createQueryBuilder(CopyMemberTable, 'cm')
      .innerJoin('cm.copy', 'c')
      .innerJoin('c.assignment', 'a')
      .where(
        `cm.personId = :personId AND a.classId = :classId AND a.trialOf IS NULL AND a.putAwayAt IS NULL AND a.opensAt <= :now
         AND c.excused = 0 AND COALESCE(c.dueAt, a.dueAt) IS NOT NULL`,
        { personId, classId, now: new Date(now) },
      ),
    {
      ...WORK,
      due: col('COALESCE(c.dueAt, a.dueAt)', as.moment),
      copyId: col('c.id', as.maybe(as.id<CopyId>())),
    },
  );

const allDates = (db: Db, classId: string): Promise<Due[]> =>
  pick(
    db
      .createQueryBuilder(AssignmentTable, 'a')
      .where(
        'a.classId = :classId AND a.trialOf IS NULL AND a.putAwayAt IS NULL AND a.opensAt IS NOT NULL AND a.dueAt IS NOT NULL',
        { classId },
      ),
    { ...WORK, due: col('a.dueAt', as.moment), copyId: col('NULL', as.maybe(as.id<CopyId>())) },
  );
