import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat, writeFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import type { DataSource, EntityManager } from 'typeorm';
import { BlobChunkTable, BlobTable } from '../database/entities/index.ts';
import { codeOf, inTransaction } from '../database/transaction.ts';
import { find, insertNew, remove } from '../database/write.ts';

/** Small enough for any packet limit, large enough that 50 MB is 50 rows. */
export const CHUNK_BYTES = 1024 * 1024;

export interface Kept {
  readonly sha256: string;
  readonly bytes: number;
}

/** Keeps a file's bytes once, by their SHA-256. What is there already is not stored again. */
export async function keepFile(db: DataSource, path: string, now: number): Promise<Kept> {
  const { size } = await stat(path);
  const hash = createHash('sha256');
  for await (const part of createReadStream(path)) hash.update(part);
  const open = () => createReadStream(path, { highWaterMark: CHUNK_BYTES });
  return keep(db, { sha256: hash.digest('hex'), bytes: size }, open, now);
}

/** The same for bytes at hand. */
export async function keepBytes(db: DataSource, bytes: Uint8Array, now: number): Promise<Kept> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const parts = () =>
    Array.from({ length: Math.max(1, Math.ceil(bytes.length / CHUNK_BYTES)) }, (_, n) =>
      Buffer.from(bytes.subarray(n * CHUNK_BYTES, (n + 1) * CHUNK_BYTES)),
    );
  return keep(db, { sha256, bytes: bytes.length }, parts, now);
}

async function keep(
  db: DataSource,
  kept: Kept,
  parts: () => Iterable<Buffer> | AsyncIterable<Buffer>,
  now: number,
): Promise<Kept> {
  if (await find(db.manager, BlobTable, { sha256: kept.sha256 })) return kept;
  await inTransaction(db, async (tx) => {
    await insertNew(tx, BlobTable, { ...kept, createdAt: now });
    let n = 0;
    for await (const part of parts())
      await insertNew(tx, BlobChunkTable, { sha256: kept.sha256, n: n++, bytes: part });
  });
  return kept;
}

/** Forgets bytes that nothing names any more; what is still named by anything stays. */
export async function forget(db: DataSource, sha256: string): Promise<void> {
  try {
    await inTransaction(db, async (tx) => {
      await remove(tx, BlobChunkTable, { sha256 });
      // The database itself refuses as long as any table names it.
      await remove(tx, BlobTable, { sha256 });
    });
  } catch (error) {
    if (codeOf(error) !== 'ER_ROW_IS_REFERENCED_2') throw error;
  }
}

/** The bytes from `start` up to and with `end`, a chunk at a time. */
export async function* readBlob(
  db: EntityManager,
  sha256: string,
  start: number,
  end: number,
): AsyncGenerator<Buffer> {
  for (let n = Math.floor(start / CHUNK_BYTES); n * CHUNK_BYTES <= end; n++) {
    const row = await find(db, BlobChunkTable, { sha256, n });
    if (!row) throw new Error(`Chunk ${n} of ${sha256} is missing`);
    const from = Math.max(0, start - n * CHUNK_BYTES);
    yield row.bytes.subarray(from, end - n * CHUNK_BYTES + 1);
  }
}

export async function blobSize(db: EntityManager, sha256: string): Promise<number> {
  const row = await find(db, BlobTable, { sha256 });
  if (!row) throw new Error(`No file ${sha256}`);
  return row.bytes;
}

async function* whole(db: EntityManager, sha256: string): AsyncGenerator<Buffer> {
  yield* readBlob(db, sha256, 0, (await blobSize(db, sha256)) - 1);
}

/** Writes the whole file to `path`, for a process that opens it. */
export async function writeBlobTo(db: EntityManager, sha256: string, path: string): Promise<void> {
  await writeFile(path, whole(db, sha256));
}

/** All of it at once: for what is known to be small. */
export async function readSmall(db: EntityManager, sha256: string): Promise<Buffer> {
  return buffer(streamOf(db, sha256));
}

export const streamOf = (db: EntityManager, sha256: string): Readable => Readable.from(whole(db, sha256));
