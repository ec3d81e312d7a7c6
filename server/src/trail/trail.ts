import { type CopyId, fullName, type Person, type PersonId, TrailEntry } from '@jotmark/core';
import { In } from 'typeorm';
import { sheetsOf } from '../copy/sheets.ts';
import { AssignmentTable, CopyMarkTable, PersonTable } from '../database/entities/index.ts';
import { as, type Db, readRows } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { nameFor, whose } from '../people/students.ts';

/** More than anyone writes on one copy (five changes a second for eleven hours); of a longer trail the newest part is read. */
const MOST_LINES = 200_000;

const LINE = {
  subject: as.id<never>(),
  at: as.moment,
  step: as.json((raw) => TrailEntry.safeParse(raw)),
  by: as.maybe(as.id<PersonId>()),
} as const;

/** Every step of a copy and every stroke that ever was on it: for its students the same as for the teacher. */
export async function readTrail(house: House, person: Person, copyId: CopyId) {
  const db = house.db.manager;
  const students = await whose(db, copyId);
  if (!students) throw new Fault('not-found');
  // Raw: the newest part of a long trail in the order it was made, without two hundred thousand entities (bench: trail).
  const lines = await db.query(
    `SELECT subject, at, value AS step, by_id AS \`by\` FROM (SELECT seq, at, subject, value, by_id FROM copy_trail WHERE copy_id = ? ORDER BY seq DESC LIMIT ${MOST_LINES}) t ORDER BY seq`,
    [copyId],
  );
  const read = readRows(lines, LINE);
  const writers = [...new Set(read.flatMap((l) => l.by ?? []))];
  const strokes = await db.getRepository(CopyMarkTable).find({ where: { copyId } });
  return {
    student: fullName(nameFor(person, students)),
    title: (await find(db, AssignmentTable, { id: students.assignmentId }))!.title,
    sheets: await sheetsOf(db, copyId),
    writers:
      writers.length > 1 ? await namesOf(db, writers, person.role === 'teacher' && students.blind) : [],
    trail: {
      lines: read.map(({ by, ...line }) =>
        writers.length > 1 && by ? { ...line, by: writers.indexOf(by) } : line,
      ),
      strokes: strokes.flatMap((s) => s.value ?? []),
    },
  };
}

/** What the writers of a copy are called, in their order; those who left the group too. */
async function namesOf(db: Db, writers: readonly PersonId[], blind: boolean): Promise<string[]> {
  if (blind) return writers.map((_, i) => `Writer ${i + 1}`);
  const people = await db.getRepository(PersonTable).find({ where: { id: In([...writers]) } });
  const names = new Map(people.map((p) => [p.id, fullName(p)]));
  return writers.map((id) => names.get(id) ?? '');
}
