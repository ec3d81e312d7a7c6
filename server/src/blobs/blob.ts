import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat, writeFile } from 'node:fs/promises';
import type { DataSource } from 'typeorm';

/** Small enough for any packet limit, large enough that 50 MB is 50 rows. */
export const CHUNK_BYTES = 1024 * 1024;

/** Keeps a file's bytes once, by their SHA-256; gives the hash. What is there already is not stored again. */
export async function keepFile(
  db: DataSource,
  path: string,
  now: Date,
): Promise<{ sha256: string; bytes: number }> {
  const { size } = await stat(path);
  const hash = createHash('sha256');
  for await (const part of createReadStream(path)) hash.update(part);
  const sha256 = hash.digest('hex');
  if ((await db.query('SELECT 1 FROM blob_file WHERE sha256 = ?', [sha256])).length)
    return { sha256, bytes: size };
  await db.transaction(async (tx) => {
    await tx.query('INSERT IGNORE INTO blob_file (sha256, bytes, created_at) VALUES (?, ?, ?)', [
      sha256,
      size,
      now,
    ]);
    let n = 0;
    for await (const part of createReadStream(path, { highWaterMark: CHUNK_BYTES }))
      await tx.query('INSERT IGNORE INTO blob_chunk (sha256, n, bytes) VALUES (?, ?, ?)', [
        sha256,
        n++,
        part,
      ]);
  });
  return { sha256, bytes: size };
}

/** The bytes from `start` up to and with `end`, a chunk at a time. */
export async function* readBlob(
  db: DataSource,
  sha256: string,
  start: number,
  end: number,
): AsyncGenerator<Buffer> {
  for (let n = Math.floor(start / CHUNK_BYTES); n * CHUNK_BYTES <= end; n++) {
    const [row] = await db.query('SELECT bytes FROM blob_chunk WHERE sha256 = ? AND n = ?', [sha256, n]);
    if (!row) throw new Error(`Chunk ${n} of ${sha256} is missing`);
    const from = Math.max(0, start - n * CHUNK_BYTES);
    yield row.bytes.subarray(from, end - n * CHUNK_BYTES + 1);
  }
}

export async function blobSize(db: DataSource, sha256: string): Promise<number> {
  const [row] = await db.query('SELECT bytes FROM blob_file WHERE sha256 = ?', [sha256]);
  if (!row) throw new Error(`No file ${sha256}`);
  return row.bytes;
}

/** Writes the whole file to `path`, for a process that opens it. */
export async function writeBlobTo(db: DataSource, sha256: string, path: string): Promise<void> {
  await writeFile(path, readBlob(db, sha256, 0, (await blobSize(db, sha256)) - 1));
}
