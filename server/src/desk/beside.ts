import { type BesideDesk, type CopyId, type HandInId, Snapshot } from '@jotmark/core';
import { materialsOf } from '../assignment/materials.ts';
import type { RawRow } from '../database/raw.ts';
import { documentsOf } from '../document/document.ts';
import type { House } from '../house.ts';
import { BLIND_COLUMN } from '../people/blind.ts';
import { blindNames } from './desk.ts';

/** What can lie beside the newest hand-in of a copy. */
export async function besideDesk(house: House, copyId: CopyId): Promise<BesideDesk> {
  const rows: RawRow[] = await house.db.query(
    `SELECT h.id, h.number, h.handed_in_at, b.content, a.id AS assignment_id, ${BLIND_COLUMN}
     FROM hand_in h JOIN copy c ON c.id = h.copy_id JOIN assignment a ON a.id = c.assignment_id LEFT JOIN hand_back b ON b.hand_in_id = h.id
     WHERE h.copy_id = ? ORDER BY h.number DESC`,
    [copyId],
  );
  const [newest, ...before] = rows;
  if (!newest) return { earlier: [], materials: [] };
  const earlier: BesideDesk['earlier'] = [];
  for (const row of before)
    earlier.push({
      number: row.number,
      handedInAt: row.handed_in_at.getTime(),
      documents: blindNames(Number(row.is_blind) > 0, await documentsOf(house, row.id as HandInId)),
      marks: row.content ? Snapshot.parse(JSON.parse(row.content)).marks : [],
    });
  const materials = (await materialsOf(house, newest.assignment_id)).flatMap(({ kind, document }) =>
    document?.shows === 'pages' ? [{ worksheet: kind === 'worksheet', document }] : [],
  );
  return { earlier, materials };
}
