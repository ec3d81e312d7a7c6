import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Person } from '@jotmark/core';
import type { Response } from 'express';
import type { RawRow } from '../database/raw.ts';
import { turnsIn } from '../hand-back/hand-back.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import type { Opener } from '../opening/opener.ts';
import { BLIND_COLUMN, shownStudent } from '../people/blind.ts';
import { MARKED_COLUMNS, markedName, writeMarked } from './write-marked.ts';
import { readMarking } from '../marking/state.ts';

/** Sends the copy as it is marked now, to work on elsewhere or to print. What no word was written to stays behind. */
export async function sendMarkedPdf(
  house: House,
  opener: Opener,
  person: Person,
  handInId: string,
  as: 'notes' | 'flat',
  res: Response,
): Promise<void> {
  const rows: RawRow[] = await house.db.query(
    `SELECT ${MARKED_COLUMNS}, c.id AS copy_id, ${BLIND_COLUMN} FROM hand_in_document h
       JOIN document d ON d.id = h.document_id AND d.shows = 'pages' AND d.frames IS NOT NULL
       JOIN hand_in i ON i.id = h.hand_in_id JOIN copy c ON c.id = i.copy_id JOIN assignment a ON a.id = c.assignment_id
       JOIN person p ON p.id = c.student_id LEFT JOIN document_text t ON t.document_id = d.id WHERE h.hand_in_id = ? ORDER BY h.position`,
    [handInId],
  );
  const [row] = rows;
  if (!row) throw new Fault('not-found');
  const student = shownStudent(row);
  const marking = await readMarking(house.db, handInId);
  const folder = await mkdtemp(join(tmpdir(), 'jotmark-out-'));
  try {
    const file = await writeMarked(
      { house, opener },
      folder,
      // In a blind pile no page says whose it is.
      rows.map((r) => (Number(r.is_blind) ? { ...r, ...student } : r)),
      {
        marks: marking.marks.flatMap((m) => (m.mark ? [m.mark] : [])),
        turns: await turnsIn(house.db, handInId),
        author: `${person.given} ${person.family}`,
        flat: as === 'flat',
      },
    );
    res.set({ 'Cache-Control': 'no-store' });
    await new Promise<void>((resolve, reject) =>
      res.download(file, markedName(row.title, student), (error) => (error ? reject(error) : resolve())),
    );
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
