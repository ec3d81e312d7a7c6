import { bytes, digest, int, moment, primary, table } from '../columns.ts';

/** Bytes, kept once by their SHA-256, in chunks. */
export interface BlobRow {
  sha256: string;
  bytes: number;
  createdAt: number;
}
export const BlobTable = table<BlobRow>('blob_file', {
  sha256: primary(digest()),
  bytes: int(),
  createdAt: moment(),
});

export interface BlobChunkRow {
  sha256: string;
  n: number;
  bytes: Buffer;
}
export const BlobChunkTable = table<BlobChunkRow>('blob_chunk', {
  sha256: primary(digest()),
  n: primary(int()),
  bytes: bytes(),
});

export const BLOB = [BlobTable, BlobChunkTable];
