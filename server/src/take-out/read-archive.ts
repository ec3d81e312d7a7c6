import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import type { PersonId } from '@jotmark/core';
import { In } from 'typeorm';
import { keepFile } from '../blobs/blob.ts';
import { ClassTable, type PersonRow, PersonTable, PictureTable } from '../database/entities/index.ts';
import { codeOf, inTransaction } from '../database/transaction.ts';
import { find, insert, insertNew } from '../database/write.ts';
import type { House } from '../house.ts';
import { type ArchiveParts, openArchive } from '../opening/archive-parts.ts';
import { ownFolder } from '../programs/own-folder.ts';
import { filePart, MANIFEST, Manifest, STEPS, sha256Of, tablePart } from './archive.ts';
import { RECORD } from './record.ts';

/** Why an archive is not read. Nothing of it was kept then. */
export type ArchiveTrouble =
  | { readonly why: 'no-archive' | 'cut-off' }
  | { readonly why: 'newer'; readonly step: string }
  | { readonly why: 'changed'; readonly part: string }
  | { readonly why: 'there-already'; readonly className: string }
  | { readonly why: 'login-taken'; readonly login: string };

export class NotRead extends Error {
  readonly trouble: ArchiveTrouble;
  constructor(trouble: ArchiveTrouble) {
    super(`the archive was not read: ${trouble.why}`);
    this.trouble = trouble;
  }
}

/** Rows in one insert. */
const BITE = 200;

export interface ArchiveRead {
  readonly className: string;
  readonly rows: number;
  readonly files: number;
  /** Accounts that came with it; none of them can sign in before they get a new password. */
  readonly people: readonly { readonly id: PersonId; readonly login: string; readonly role: string }[];
}

/**
 * Reads a class's archive into this Jotmark, all of it or nothing. First everything is held against what the archive says of itself: a part that is missing or is another than when
 * it was made, rows that a newer Jotmark wrote. Throws NotRead with why.
 */
export async function readArchive(house: House, path: string): Promise<ArchiveRead> {
  const parts = await openArchive(path).catch(() => {
    throw new NotRead({ why: 'cut-off' });
  });
  const folder = await ownFolder('archive');
  try {
    const manifest = await manifestOf(parts);
    const tables = await tablesOf(parts, manifest);
    const here = await mustFit(house, manifest, tables);
    // Bytes first: rows name them. Without rows nobody sees them, and the next sweep forgets them.
    for (const sha256 of manifest.files) await keep(house, parts, sha256, join(folder, sha256));
    await inTransaction(house.db, async (tx) => {
      for (const { table } of RECORD) {
        const rows = tables.get(table.table) ?? [];
        for (let i = 0; i < rows.length; i += BITE) {
          const some = rows.slice(i, i + BITE);
          // Accounts and files of a colleague's class may be here from another archive: they are the same ones.
          if (SHARED.has(table.table)) await insertNew(tx, table, some);
          else await insert(tx, table, some);
        }
      }
      if (manifest.pictures.length)
        await insertNew(
          tx,
          PictureTable,
          manifest.pictures.map((sha256) => ({ sha256, createdAt: house.now() })),
        );
    });
    return {
      className: manifest.className,
      rows: [...tables.values()].reduce((n, rows) => n + rows.length, 0),
      files: manifest.files.length,
      people: (tables.get('person') as PersonRow[])
        .filter((p) => !here.has(p.id))
        .map(({ id, login, role }) => ({ id, login, role })),
    };
  } catch (error) {
    if (codeOf(error) === 'ER_DUP_ENTRY') throw new NotRead({ why: 'changed', part: MANIFEST });
    throw error;
  } finally {
    parts.close();
    await rm(folder, { recursive: true, force: true });
  }
}

/** What two classes of one school share. */
const SHARED: ReadonlySet<string> = new Set([
  'person',
  'rubric',
  'rubric_version',
  'worksheet',
  'worksheet_version',
  'document',
  'document_part',
  'document_text',
  'document_shapes',
  'page_turns',
  'voice',
]);

async function manifestOf(parts: ArchiveParts): Promise<Manifest> {
  if (!parts.names.has(MANIFEST)) throw new NotRead({ why: 'no-archive' });
  let raw: unknown;
  try {
    raw = JSON.parse((await buffer(await parts.read(MANIFEST))).toString('utf8'));
  } catch {
    throw new NotRead({ why: 'changed', part: MANIFEST });
  }
  const read = Manifest.safeParse(raw);
  if (!read.success) {
    const form = (raw as { form?: unknown } | null)?.form;
    if (typeof form === 'number' && form > 1) throw new NotRead({ why: 'newer', step: `form ${form}` });
    throw new NotRead({ why: 'no-archive' });
  }
  if (!STEPS.includes(read.data.step)) throw new NotRead({ why: 'newer', step: read.data.step });
  return read.data;
}

const asBytes = (_: string, value: unknown): unknown =>
  value !== null && typeof value === 'object' && '$bytes' in value
    ? Buffer.from(String(value.$bytes), 'base64')
    : value;

/** The rows of every table; columns that came since the archive was made are as they are in rows from before. */
async function tablesOf(parts: ArchiveParts, manifest: Manifest): Promise<Map<string, object[]>> {
  const out = new Map<string, object[]>();
  for (const { table } of RECORD) {
    const told = manifest.tables.find((t) => t.name === table.table);
    if (!told) continue;
    const part = tablePart(told.name);
    const text = await buffer(await parts.read(part))
      .then((b) => b.toString('utf8'))
      .catch(() => {
        throw new NotRead({ why: 'changed', part });
      });
    if (sha256Of(text) !== told.sha256) throw new NotRead({ why: 'changed', part });
    const columns = Object.keys(table.options.columns);
    const rows = text
      .split('\n')
      .filter(Boolean)
      .map((line) => {
        const row = JSON.parse(line, asBytes) as Record<string, unknown>;
        return Object.fromEntries(columns.map((c) => [c, row[c] ?? null]));
      });
    out.set(told.name, rows);
  }
  return out;
}

/** The class is not here yet, and no login of it is somebody else's. Gives who of its people is here already. */
async function mustFit(
  house: House,
  { classId, className }: Manifest,
  tables: ReadonlyMap<string, object[]>,
): Promise<ReadonlySet<PersonId>> {
  const db = house.db.manager;
  if (await find(db, ClassTable, { id: classId })) throw new NotRead({ why: 'there-already', className });
  const people = (tables.get('person') ?? []) as PersonRow[];
  if (people.length === 0) return new Set();
  const there = await db
    .getRepository(PersonTable)
    .find({ where: { login: In(people.map((p) => p.login)) } });
  const taken = there.find((t) => !people.some((p) => p.id === t.id));
  if (taken) throw new NotRead({ why: 'login-taken', login: taken.login });
  return new Set(there.map((t) => t.id));
}

async function keep(house: House, parts: ArchiveParts, sha256: string, path: string): Promise<void> {
  const part = filePart(sha256);
  const changed = () => new NotRead({ why: 'changed', part });
  try {
    await pipeline(await parts.read(part), createWriteStream(path));
  } catch {
    throw changed();
  }
  const hash = createHash('sha256');
  for await (const piece of createReadStream(path)) hash.update(piece);
  if (hash.digest('hex') !== sha256) throw changed();
  await keepFile(house.db, path, house.now());
  await rm(path, { force: true });
}
