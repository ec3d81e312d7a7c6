import { type CopyId, fullName, type Person, TrailEntry } from '@jotmark/core';
import { sheetsOf } from '../copy/sheets.ts';
import { AssignmentTable, CopyMarkTable } from '../database/entities/index.ts';
import { as, readRows } from '../database/pick.ts';
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
} as const;

/** Every step of a copy and every stroke that ever was on it: for its students the same as for the teacher. */
export async function readTrail(house: House, person: Person, copyId: CopyId) {
  const db = house.db.manager;
  const students = await whose(db, copyId);
  if (!students) throw new Fault('not-found');
  // Raw: the newest part of a long trail in the order it was made, without two hundred thousand entities (bench: trail).
  const lines = await db.query(
    `SELECT subject, at, value AS step FROM (SELECT seq, at, subject, value FROM copy_trail WHERE copy_id = ? ORDER BY seq DESC LIMIT ${MOST_LINES}) t ORDER BY seq`,
    [copyId],
  );
  const strokes = await db.getRepository(CopyMarkTable).find({ where: { copyId } });
  return {
    student: fullName(nameFor(person, students)),
    title: (await find(db, AssignmentTable, { id: students.assignmentId }))!.title,
    sheets: await sheetsOf(db, copyId),
    trail: {
      lines: readRows(lines, LINE),
      strokes: strokes.flatMap((s) => s.value ?? []),
    },
  };
}
