import {
  type DocumentId,
  type DocumentPages,
  type DocumentState,
  PageFrame,
  type PageText,
  Turns,
} from '@jotmark/core';
import * as z from 'zod';
import { keepFile } from '../files/blob.ts';
import { type House, newId } from '../house.ts';
import { orderJob, PROGRESS_COLUMNS, type ProgressColumns, progressOf } from '../jobs/queue.ts';

const STATE_COLUMNS = `d.id, d.name, d.pages, b.bytes, ${PROGRESS_COLUMNS}`;
const STATE_FROM = `document d JOIN blob_file b ON b.sha256 = d.original_sha256
  LEFT JOIN job j ON j.kind = 'read-document' AND j.subject = d.id`;

type StateRow = { id: DocumentId; name: string; pages: number; bytes: number } & ProgressColumns;

const stateOf = (row: StateRow): DocumentState => ({
  id: row.id,
  name: row.name,
  bytes: row.bytes,
  pages: row.pages,
  reading: progressOf(row),
});

/** Keeps a judged file as a document of a copy and orders its reading. `mended` is what is opened, `original` what came. */
export async function keepDocument(
  house: House,
  about: { copyId: string; name: string; pages: number; original: string; mended: string },
): Promise<DocumentId> {
  const now = new Date(house.now());
  const original = await keepFile(house.db, about.original, now);
  const mended = about.mended === about.original ? original : await keepFile(house.db, about.mended, now);
  const id = newId<DocumentId>(house);
  await house.db.transaction(async (tx) => {
    await tx.query(
      'INSERT INTO document (id, copy_id, name, original_sha256, sha256, pages, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [id, about.copyId, about.name, original.sha256, mended.sha256, about.pages, now],
    );
    await orderJob(house, tx, 'read-document', id);
  });
  return id;
}

export async function documentState(house: House, id: string): Promise<DocumentState> {
  const [row] = await house.db.query(`SELECT ${STATE_COLUMNS} FROM ${STATE_FROM} WHERE d.id = ?`, [id]);
  return stateOf(row);
}

/** The documents of a hand-in, in their order. */
export async function documentsOf(house: House, handInId: string): Promise<DocumentState[]> {
  const rows: StateRow[] = await house.db.query(
    `SELECT ${STATE_COLUMNS} FROM ${STATE_FROM} JOIN hand_in_document h ON h.document_id = d.id WHERE h.hand_in_id = ? ORDER BY h.position`,
    [handInId],
  );
  return rows.map(stateOf);
}

/** Pages as they lie. The teacher's turns are read only for a teacher: a student gets them with the hand-back. */
export async function documentPages(
  house: House,
  id: DocumentId,
  forTeacher: boolean,
): Promise<DocumentPages> {
  const [row] = await house.db.query('SELECT frames FROM document WHERE id = ?', [id]);
  return {
    state: await documentState(house, id),
    frames: row.frames ? z.array(PageFrame).parse(JSON.parse(row.frames)) : [],
    turns: forTeacher ? await turnsOf(house, id) : {},
  };
}

export async function documentText(house: House, id: string): Promise<PageText[]> {
  const [row] = await house.db.query('SELECT pages FROM document_text WHERE document_id = ?', [id]);
  return row ? JSON.parse(row.pages) : [];
}

export async function turnsOf(house: House, id: string): Promise<Turns> {
  const [row] = await house.db.query('SELECT turns FROM page_turns WHERE document_id = ?', [id]);
  return row ? Turns.parse(JSON.parse(row.turns)) : {};
}

export async function turnPages(house: House, id: string, turns: Turns): Promise<void> {
  await house.db.query('REPLACE INTO page_turns (document_id, turns) VALUES (?, ?)', [
    id,
    JSON.stringify(turns),
  ]);
}
