import {
  type AssignmentId,
  type DocumentId,
  type Material,
  type MaterialId,
  Questions,
  sumOfPoints,
  type VersionId,
  type WorksheetId,
} from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import type { RawRow } from '../database/raw.ts';
import { STATE_COLUMNS, STATE_FROM, stateOf } from '../document/document.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';

const MOST_MATERIALS = 50;

/** What comes with an assignment, in its order. Pictures of the instructions are not among it. */
export async function materialsOf(house: House, assignmentId: string): Promise<Material[]> {
  const rows = await house.db.query(
    `SELECT x.id AS material_id, x.kind, x.name AS material_name, x.version_id, v.worksheet_id, v.questions, ${STATE_COLUMNS}
     FROM ${STATE_FROM} JOIN material x LEFT JOIN worksheet_version v ON v.id = x.version_id
     WHERE d.id = COALESCE(x.document_id, v.document_id) AND x.assignment_id = ? AND x.kind <> 'picture' ORDER BY x.position`,
    [assignmentId],
  );
  return rows.map(
    (r: RawRow): Material => ({
      id: r.material_id,
      kind: r.kind,
      name: r.material_name,
      url: r.url,
      document: stateOf(r),
      worksheetId: r.worksheet_id,
      versionId: r.version_id,
      points: r.questions ? sumOfPoints(Questions.parse(JSON.parse(r.questions))) : null,
    }),
  );
}

type What = { documentId: DocumentId } | { versionId: VersionId };

export async function addMaterial(
  house: House,
  assignmentId: AssignmentId,
  kind: Material['kind'] | 'picture',
  name: string,
  what: What,
): Promise<MaterialId> {
  const id = newId<MaterialId>(house);
  await house.db.transaction(async (tx) => {
    await tx.query('SELECT id FROM assignment WHERE id = ? FOR UPDATE', [assignmentId]);
    const [row] = await tx.query(
      'SELECT COUNT(*) AS n, COALESCE(MAX(position), -1) AS last FROM material WHERE assignment_id = ?',
      [assignmentId],
    );
    if (Number(row.n) >= MOST_MATERIALS) throw new Fault('too-many-files', { most: MOST_MATERIALS });
    await tx.query(
      'INSERT INTO material (id, assignment_id, position, kind, name, document_id, version_id) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        id,
        assignmentId,
        Number(row.last) + 1,
        kind,
        name.slice(0, 300),
        'documentId' in what ? what.documentId : null,
        'versionId' in what ? what.versionId : null,
      ],
    );
  });
  return id;
}

/**
 * Adds a worksheet in its newest version, or brings one that is there already up to it. Copies that are out keep theirs; students who
 * join later get the new one.
 */
export async function addWorksheet(
  house: House,
  assignmentId: AssignmentId,
  worksheetId: WorksheetId,
): Promise<void> {
  const [newest] = await house.db.query(
    `SELECT v.id, k.name FROM worksheet_version v JOIN worksheet k ON k.id = v.worksheet_id WHERE v.worksheet_id = ? ORDER BY v.number DESC LIMIT 1`,
    [worksheetId],
  );
  const [there] = await house.db.query(
    'SELECT x.id FROM material x JOIN worksheet_version v ON v.id = x.version_id WHERE x.assignment_id = ? AND v.worksheet_id = ?',
    [assignmentId, worksheetId],
  );
  if (there) await house.db.query('UPDATE material SET version_id = ? WHERE id = ?', [newest.id, there.id]);
  else await addMaterial(house, assignmentId, 'worksheet', newest.name, { versionId: newest.id });
}

export async function removeMaterial(house: House, assignmentId: string, materialId: string): Promise<void> {
  await house.db.query('DELETE FROM material WHERE id = ? AND assignment_id = ?', [materialId, assignmentId]);
}

/** Those not named keep their place behind the others. */
export async function orderMaterials(
  house: House,
  assignmentId: string,
  order: readonly MaterialId[],
): Promise<void> {
  await house.db.transaction(async (tx) => {
    await tx.query(
      'UPDATE material SET position = position + 1000 WHERE assignment_id = ? AND position < 1000',
      [assignmentId],
    );
    for (const [i, id] of order.entries())
      await tx.query('UPDATE material SET position = ? WHERE id = ? AND assignment_id = ?', [
        i,
        id,
        assignmentId,
      ]);
  });
}

export async function copyMaterials(
  house: House,
  tx: EntityManager,
  from: string,
  to: string,
): Promise<void> {
  const rows: RawRow[] = await tx.query(
    'SELECT position, kind, name, document_id, version_id FROM material WHERE assignment_id = ?',
    [from],
  );
  if (rows.length)
    await tx.query(
      'INSERT INTO material (id, assignment_id, position, kind, name, document_id, version_id) VALUES ?',
      [rows.map((r) => [newId(house), to, r.position, r.kind, r.name, r.document_id, r.version_id])],
    );
}
