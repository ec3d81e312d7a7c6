import { type CopyId, Mark, type Person, type Trail, TrailEntry } from '@jotmark/core';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';
import { BLIND_COLUMN, fullName, shownStudent } from '../people/blind.ts';
import { sheetsOf } from '../work/work.ts';

/** More than anyone writes on one copy (five changes a second for eleven hours); of a longer trail the newest part is read. */
const MOST_LINES = 200_000;

/** Every step of a copy and every stroke that ever was on it: for its student the same as for the teacher. */
export async function readTrail(house: House, person: Person, copyId: CopyId) {
  const [about] = await house.db.query(
    `SELECT p.given, p.family, a.title, c.id AS copy_id, ${BLIND_COLUMN} FROM copy c JOIN person p ON p.id = c.student_id JOIN assignment a ON a.id = c.assignment_id WHERE c.id = ?`,
    [copyId],
  );
  const lines: RawRow[] = await house.db.query(
    `SELECT * FROM (SELECT seq, at, subject, value FROM copy_trail WHERE copy_id = ? ORDER BY seq DESC LIMIT ${MOST_LINES}) t ORDER BY seq`,
    [copyId],
  );
  const strokes: RawRow[] = await house.db.query(
    'SELECT value FROM copy_mark WHERE copy_id = ? AND value IS NOT NULL',
    [copyId],
  );
  const trail: Trail = {
    lines: lines.map((l) => ({
      at: l.at.getTime(),
      subject: l.subject,
      step: TrailEntry.parse(JSON.parse(l.value)),
    })),
    strokes: strokes.map((s) => Mark.parse(JSON.parse(s.value))),
  };
  return {
    student: fullName(
      person.role === 'teacher' ? shownStudent(about) : { given: about.given, family: about.family },
    ),
    title: about.title,
    sheets: await sheetsOf(house, copyId),
    trail,
  };
}
