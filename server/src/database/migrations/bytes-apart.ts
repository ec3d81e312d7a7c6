import { createHash } from 'node:crypto';
import { bytesOf, digestOf } from '@jotmark/core';
import type { QueryRunner } from 'typeorm';

type Raw = Record<string, unknown>;
const isRaw = (value: unknown): value is Raw =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const CHUNK = 1024 * 1024;

/** Keeps bytes once; as a picture that marks use, or not. Gives their SHA-256. */
export async function keepBytes(runner: QueryRunner, bytes: Uint8Array, isPicture: boolean): Promise<string> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  await runner.query(
    'INSERT IGNORE INTO blob_file (sha256, bytes, created_at) VALUES (?, ?, UTC_TIMESTAMP(3))',
    [sha256, bytes.length],
  );
  for (let n = 0; n * CHUNK < bytes.length || n === 0; n++)
    await runner.query('INSERT IGNORE INTO blob_chunk (sha256, n, bytes) VALUES (?, ?, ?)', [
      sha256,
      n,
      Buffer.from(bytes.subarray(n * CHUNK, (n + 1) * CHUNK)),
    ]);
  if (isPicture)
    await runner.query('INSERT IGNORE INTO picture (sha256, created_at) VALUES (?, UTC_TIMESTAMP(3))', [
      sha256,
    ]);
  return sha256;
}

export async function readKept(runner: QueryRunner, sha256: string): Promise<Buffer | null> {
  const rows: { bytes: Buffer }[] = await runner.query(
    'SELECT bytes FROM blob_chunk WHERE sha256 = ? ORDER BY n',
    [sha256],
  );
  return rows.length ? Buffer.concat(rows.map((r) => r.bytes)) : null;
}

/**
 * Marks and stamps anywhere in a value, from version 1 to version 2: their bytes are put into `kept` and named by their SHA-256. Values without
 * bytes stay as they are: whoever reads them brings them forward.
 */
export function bytesApart(value: unknown, kept: Uint8Array[]): unknown {
  if (Array.isArray(value)) return value.map((v) => bytesApart(v, kept));
  if (!isRaw(value)) return value;
  const keep = (text: unknown) => {
    if (typeof text !== 'string') return null;
    const bytes = bytesOf(text);
    kept.push(bytes);
    return digestOf(bytes);
  };
  const out: Raw = Object.fromEntries(Object.entries(value).map(([k, v]) => [k, bytesApart(v, kept)]));
  if (out.of === 'picture' && 'png' in out) {
    const { png, ...rest } = out;
    return { ...rest, picture: keep(png) };
  }
  if (out.kind === 'foreign' && 'png' in out) {
    const { png, ...rest } = out;
    return { ...rest, v: 2, pdf: keep(out.pdf), picture: keep(png) };
  }
  if (out.kind === 'stamp' && out.v === 1) out.v = 2;
  if (Array.isArray(out.trays) && !('v' in out)) out.v = 2;
  return out;
}

/** The way back: bytes go into the values again, and a removal names its whole mark. */
export async function bytesBack(
  value: unknown,
  bytes: (sha256: string) => Promise<Buffer | null>,
): Promise<unknown> {
  if (Array.isArray(value)) return Promise.all(value.map((v) => bytesBack(v, bytes)));
  if (!isRaw(value)) return value;
  const entries = await Promise.all(
    Object.entries(value).map(async ([k, v]) => [k, await bytesBack(v, bytes)] as const),
  );
  const out: Raw = Object.fromEntries(entries);
  const text = async (sha256: unknown) =>
    typeof sha256 === 'string' ? ((await bytes(sha256))?.toString('base64') ?? null) : null;
  if (out.of === 'picture' && 'picture' in out) {
    const { picture, ...rest } = out;
    return { ...rest, png: await text(picture) };
  }
  if (out.kind === 'foreign' && out.v === 2) {
    const { picture, ...rest } = out;
    return { ...rest, v: 1, pdf: await text(out.pdf), png: await text(picture) };
  }
  if ('kind' in out && out.v === 2) out.v = 1;
  if (Array.isArray(out.trays)) delete out.v;
  if (out.type === 'remove' && 'of' in out) {
    const { of, was, ...rest } = out;
    return { ...rest, mark: was };
  }
  return out;
}
