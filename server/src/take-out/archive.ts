import { createHash } from 'node:crypto';
import { ClassId } from '@jotmark/core';
import { In } from 'typeorm';
import * as z from 'zod';
import { streamOf } from '../blobs/blob.ts';
import { BlobTable, ClassTable, PictureTable } from '../database/entities/index.ts';
import { MIGRATIONS } from '../database/migrate.ts';
import type { Db } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { ZipFolder } from './folder.ts';
import { digestsIn, RECORD, rowsOf } from './record.ts';

/** What an archive says of itself. It is read first, and all else is held against it. */
export const Manifest = z.object({
  jotmark: z.literal('class archive'),
  form: z.literal(1),
  /** The newest step of the database that its rows fit. */
  step: z.string(),
  classId: ClassId,
  className: z.string(),
  madeAt: z.int(),
  tables: z.array(z.object({ name: z.string(), rows: z.int(), sha256: z.string() })),
  files: z.array(z.string().regex(/^[0-9a-f]{64}$/)),
  /** Which of them are pictures that marks name. */
  pictures: z.array(z.string().regex(/^[0-9a-f]{64}$/)),
});
export type Manifest = z.infer<typeof Manifest>;

export const MANIFEST = 'jotmark-class.json';
export const tablePart = (name: string): string => `rows/${name}.ndjson`;
export const filePart = (sha256: string): string => `files/${sha256}`;

/** The step of the database that this program brings. */
export const NEWEST_STEP = new (MIGRATIONS.at(-1)!)().name;
export const STEPS = MIGRATIONS.map((M) => new M().name);

/** Bytes in a row, as JSON can hold them. */
export const asText = (_: string, value: unknown): unknown =>
  value !== null && typeof value === 'object' && 'type' in value && value.type === 'Buffer'
    ? { $bytes: Buffer.from(value as never).toString('base64') }
    : value;

/**
 * Puts a class's whole record into a zip: its rows, table by table, a line a row; the files that they name, each under the SHA-256 of its bytes; and what it all
 * is, with a digest of each table. Read by `read-class`.
 */
export async function archiveClass(
  db: Db,
  zip: ZipFolder,
  classId: ClassId,
  now: number,
  progress: (done: number, total: number) => void,
): Promise<Manifest> {
  const head = await find(db, ClassTable, { id: classId });
  if (!head) throw new Fault('not-found');
  const tables: Manifest['tables'] = [];
  const named = new Set<string>();
  for (const part of RECORD) {
    const rows = await rowsOf(db, part, { classId });
    const text = rows.map((row) => `${JSON.stringify(row, asText)}\n`).join('');
    for (const digest of digestsIn(text)) named.add(digest);
    const { table: name } = part.table;
    tables.push({ name, rows: rows.length, sha256: sha256Of(text) });
    await zip.add(['rows'], `${name}.ndjson`, Buffer.from(text, 'utf8'));
  }
  const files = await keptOf(db, BlobTable, [...named]);
  for (const [i, sha256] of files.entries()) {
    progress(i, files.length);
    await zip.add(['files'], sha256, streamOf(db, sha256));
  }
  const manifest: Manifest = {
    jotmark: 'class archive',
    form: 1,
    step: NEWEST_STEP,
    classId,
    className: head.name,
    madeAt: now,
    tables,
    files,
    pictures: await keptOf(db, PictureTable, files),
  };
  await zip.add([], MANIFEST, Buffer.from(JSON.stringify(manifest, null, 1), 'utf8'));
  return manifest;
}

export const sha256Of = (text: string): string => createHash('sha256').update(text, 'utf8').digest('hex');

/** Which of these are files that are kept. */
async function keptOf(
  db: Db,
  among: typeof BlobTable | typeof PictureTable,
  digests: readonly string[],
): Promise<string[]> {
  const out: string[] = [];
  for (let i = 0; i < digests.length; i += 500) {
    const rows = await db
      .getRepository(among as typeof PictureTable)
      .find({ where: { sha256: In(digests.slice(i, i + 500)) } });
    out.push(...rows.map((r) => r.sha256));
  }
  return out.sort();
}
