import {
  type DocumentId,
  type DocumentPages,
  type DocumentState,
  PageFrame,
  PageShapes,
  type PageText,
  type Shows,
  Turns,
} from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import * as z from 'zod';
import type { RawRow } from '../database/raw.ts';
import { keepFile } from '../blobs/blob.ts';
import type { Judged } from '../opening/judge.ts';
import { type House, newId } from '../house.ts';
import { orderJob, PROGRESS_COLUMNS, progressOf } from '../jobs/queue.ts';

export const STATE_COLUMNS = `d.id, d.name, d.pages, d.type, d.shows, d.trouble, d.url, b.bytes, ${PROGRESS_COLUMNS}`;
export const STATE_FROM = `document d LEFT JOIN blob_file b ON b.sha256 = d.original_sha256
  LEFT JOIN job j ON j.kind = 'read-document' AND j.subject = d.id`;

const NOTHING_TO_READ = { state: 'done', done: 0, total: 0, error: null } as const;

export const stateOf = (row: RawRow): DocumentState => ({
  id: row.id,
  name: row.name,
  type: row.type,
  shows: row.shows as Shows,
  trouble: row.trouble,
  url: row.url,
  bytes: row.bytes ?? 0,
  pages: row.pages,
  reading: row.shows === 'pages' ? progressOf(row as never) : NOTHING_TO_READ,
});

/** Whose document it is: a copy's, or a teacher's own (a worksheet or something to look at). */
export type Belongs = { readonly copyId: string } | { readonly ownerId: string };

const ownerColumns = (to: Belongs): [copy: string | null, owner: string | null] =>
  'copyId' in to ? [to.copyId, null] : [null, to.ownerId];

export interface Part {
  readonly path: string;
  readonly name: string;
  readonly judged: Judged;
}

/**
 * Keeps a judged file as a document and, where it can become pages, orders that. Several parts make one document of all
 * their pages, one behind the other, named by `name`.
 */
export async function keepDocument(
  house: House,
  to: Belongs,
  name: string,
  parts: readonly [Part, ...Part[]],
): Promise<DocumentId> {
  const now = new Date(house.now());
  const kept: (Part & { readonly original: string; readonly opened: string })[] = [];
  for (const part of parts) {
    const original = await keepFile(house.db, part.path, now);
    const pdf =
      part.judged.pdf && part.judged.pdf !== part.path
        ? await keepFile(house.db, part.judged.pdf, now)
        : null;
    kept.push({ ...part, original: original.sha256, opened: (pdf ?? original).sha256 });
  }
  const id = newId<DocumentId>(house);
  const [first] = kept as [(typeof kept)[number]];
  const one = kept.length === 1;
  const { judged } = first;
  const shows: Shows = one ? judged.shows : 'pages';
  await house.db.transaction(async (tx) => {
    await insertDocument(tx, id, to, {
      name,
      original: first.original,
      sha256: one && judged.pdf ? first.opened : null,
      pages: one ? judged.pages : 0,
      type: one ? judged.type : 'multipart/mixed',
      shows,
      trouble: one ? judged.trouble : null,
      at: now,
    });
    if (!one)
      await tx.query('INSERT INTO document_part (document_id, position, name, type, sha256) VALUES ?', [
        kept.map((k, i) => [id, i, k.name, k.judged.type, k.opened]),
      ]);
    if (shows === 'pages') await orderJob(house, tx, 'read-document', id);
  });
  return id;
}

interface NewDocument {
  readonly name: string;
  readonly original: string | null;
  readonly sha256: string | null;
  readonly pages: number;
  readonly type: string;
  readonly shows: Shows;
  readonly trouble: string | null;
  readonly url?: string;
  readonly at: Date;
}

async function insertDocument(tx: EntityManager, id: string, to: Belongs, d: NewDocument): Promise<void> {
  await tx.query(
    `INSERT INTO document (id, copy_id, owner_id, name, original_sha256, sha256, pages, type, shows, trouble, url, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      id,
      ...ownerColumns(to),
      d.name,
      d.original,
      d.sha256,
      d.pages,
      d.type,
      d.shows,
      d.trouble,
      d.url ?? null,
      d.at,
    ],
  );
}

/** An address as a document: it lies among the files and is followed, never fetched by us. */
export async function keepLink(house: House, to: Belongs, url: string, name: string): Promise<DocumentId> {
  const id = newId<DocumentId>(house);
  await insertDocument(house.db.manager, id, to, {
    name: name || new URL(url).host || url.slice(0, 200),
    original: null,
    sha256: null,
    pages: 0,
    type: 'text/uri-list',
    shows: 'link',
    trouble: null,
    url,
    at: new Date(house.now()),
  });
  return id;
}

export async function documentState(house: House, id: string): Promise<DocumentState> {
  return (await documentStates(house, [id]))[0]!;
}

/** States in the order of the ids. */
export async function documentStates(house: House, ids: readonly string[]): Promise<DocumentState[]> {
  if (ids.length === 0) return [];
  const rows = await house.db.query(`SELECT ${STATE_COLUMNS} FROM ${STATE_FROM} WHERE d.id IN (?)`, [ids]);
  const byId = new Map<string, DocumentState>(rows.map((r: RawRow) => [r.id, stateOf(r)]));
  return ids.flatMap((id) => byId.get(id) ?? []);
}

/** The documents of a hand-in, in their order. */
export async function documentsOf(house: House, handInId: string): Promise<DocumentState[]> {
  const rows = await house.db.query(
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

/** What is drawn on the pages of a worksheet; none for documents that are not one. */
export async function documentShapes(house: House, id: string): Promise<PageShapes[]> {
  const [row] = await house.db.query('SELECT pages FROM document_shapes WHERE document_id = ?', [id]);
  return row ? z.array(PageShapes).parse(JSON.parse(row.pages)) : [];
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
