import type { CopyId, DocumentState } from '@jotmark/core';
import { documentState, keepDocument } from '../documents/document.ts';
import { judgePdf } from '../files/judge.ts';
import type { House } from '../house.ts';
import { Fault } from '../http/fault.ts';
import type { Opener } from '../jobs/opener.ts';

/** Judges an uploaded file, keeps it and lays it ready on the copy in place of the one before. */
export async function layReady(
  house: House,
  opener: Opener,
  copyId: CopyId,
  file: { path: string; name: string },
): Promise<DocumentState> {
  await mayHandIn(house, copyId);
  const { pages, mended } = await judgePdf(opener, file.path, file.name);
  const id = await keepDocument(house, { copyId, name: file.name, pages, original: file.path, mended });
  await house.db.query('UPDATE copy SET ready_document_id = ? WHERE id = ?', [id, copyId]);
  return documentState(house, id);
}

export async function takeAway(house: House, copyId: CopyId): Promise<void> {
  await house.db.query('UPDATE copy SET ready_document_id = NULL WHERE id = ?', [copyId]);
}

/** A copy that is with the teacher cannot be handed in again before it comes back. */
async function mayHandIn(house: House, copyId: CopyId): Promise<void> {
  const [row] = await house.db.query(
    `SELECT b.id AS back_id FROM hand_in h LEFT JOIN hand_back b ON b.hand_in_id = h.id WHERE h.copy_id = ? ORDER BY h.number DESC LIMIT 1`,
    [copyId],
  );
  if (row && !row.back_id) throw new Fault('already-handed-in');
}
