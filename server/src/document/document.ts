import type { CopyId, DocumentId, PersonId, Shows } from '@jotmark/core';
import { type Kept, keepFile } from '../blobs/blob.ts';
import {
  type DocumentPartRow,
  DocumentPartTable,
  type DocumentRow,
  DocumentTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { insert } from '../database/write.ts';
import { type House, newId } from '../house.ts';
import { orderJob } from '../jobs/queue.ts';
import type { Judged } from '../opening/judge.ts';

/** Whose document it is: a copy's, or a teacher's own (a worksheet or something to look at). */
export type Belongs = { readonly copyId: CopyId } | { readonly ownerId: PersonId };

/** A judged file whose bytes are kept. */
export interface Part {
  readonly name: string;
  readonly judged: Judged;
  readonly original: Kept;
  /** What is opened: its mended form where it had to be mended. */
  readonly opened: string;
}

/** Keeps what judging a file left on the disk. */
export async function keepJudged(
  house: House,
  file: { readonly name: string; readonly original: Kept; readonly mended: string },
  judged: Judged,
): Promise<Part> {
  const { name, original, mended } = file;
  const opened = judged.mended ? (await keepFile(house.db, mended, house.now())).sha256 : original.sha256;
  return { name, judged, original, opened };
}

/** What a document is before anything is known of it. */
export function newDocument(house: House, to: Belongs, name: string): DocumentRow {
  return {
    id: newId<DocumentId>(house),
    copyId: 'copyId' in to ? to.copyId : null,
    ownerId: 'ownerId' in to ? to.ownerId : null,
    name: name.slice(0, 255),
    originalSha256: null,
    sha256: null,
    pages: 0,
    frames: null,
    createdAt: house.now(),
    type: 'application/pdf',
    shows: 'pages',
    trouble: null,
    url: null,
    filledFrom: null,
    versionId: null,
    pictureSha256: null,
    flows: null,
    ownNotes: null,
    takenAwayAt: null,
  };
}

/**
 * Makes judged files a document and, where they can become pages, orders that. Several parts make one document of all
 * their pages, one behind the other, named by `name`. `forWhom` waits for its pages.
 */
export async function makeDocument(
  house: House,
  tx: Db,
  to: Belongs,
  name: string,
  parts: readonly [Part, ...Part[]],
  forWhom: PersonId | null,
): Promise<DocumentId> {
  const [first] = parts;
  const one = parts.length === 1;
  const { judged } = first;
  const shows: Shows = one ? judged.shows : 'pages';
  const row: DocumentRow = {
    ...newDocument(house, to, name),
    originalSha256: first.original.sha256,
    sha256: one && judged.type === 'application/pdf' ? first.opened : null,
    pages: one ? judged.pages : 0,
    type: one ? judged.type : 'multipart/mixed',
    shows,
    trouble: one ? judged.trouble : null,
  };
  await insert(tx, DocumentTable, row);
  if (!one)
    await insert(
      tx,
      DocumentPartTable,
      parts.map(
        (part, position): DocumentPartRow => ({
          documentId: row.id,
          position,
          name: part.name,
          type: part.judged.type,
          sha256: part.opened,
        }),
      ),
    );
  if (shows === 'pages')
    await orderReading(house, tx, row.id, {
      forWhom,
      size: parts.reduce((sum, p) => sum + p.original.bytes, 0),
      awaited: true,
    });
  return row.id;
}

/** Orders that a document be read. */
export async function orderReading(
  house: House,
  tx: Db,
  id: DocumentId,
  about: { readonly forWhom: PersonId | null; readonly size: number; readonly awaited: boolean },
): Promise<void> {
  await orderJob(house, tx, {
    kind: 'read-document',
    subject: id,
    personId: about.forWhom,
    size: about.size,
    awaited: about.awaited,
  });
}

/** An address as a document: it lies among the files and is followed, never fetched by us. */
export async function keepLink(house: House, to: Belongs, url: string, name: string): Promise<DocumentRow> {
  const row: DocumentRow = {
    ...newDocument(house, to, name || new URL(url).host || url.slice(0, 200)),
    type: 'text/uri-list',
    shows: 'link',
    // As the parser of addresses gives it back: no line breaks, no spaces, nothing that ends the line of a file it is written into.
    url: new URL(url).href,
  };
  await insert(house.db.manager, DocumentTable, row);
  return row;
}
