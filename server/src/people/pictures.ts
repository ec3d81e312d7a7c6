import { type Digest, digestOf } from '@jotmark/core';
import { In } from 'typeorm';
import { keepBytes, keepFile } from '../blobs/blob.ts';
import { PictureTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find, insertNew } from '../database/write.ts';
import type { House } from '../house.ts';

/** Keeps bytes that marks will name; gives what they are called from now on. */
export async function keepPicture(house: House, base64: string): Promise<Digest> {
  const bytes = Buffer.from(base64, 'base64');
  const { sha256 } = await keepBytes(house.db, bytes, house.now());
  await named(house, sha256);
  return digestOf(bytes);
}

/** The same for bytes that a file from elsewhere brought along. */
export async function keepPictureFile(house: House, path: string): Promise<void> {
  await named(house, (await keepFile(house.db, path, house.now())).sha256);
}

async function named(house: House, sha256: string): Promise<void> {
  await insertNew(house.db.manager, PictureTable, { sha256, createdAt: house.now() });
}

/** Kept bytes may be asked for as a picture only when they were kept as one: what students hand in is not. */
export async function isPicture(db: Db, sha256: string): Promise<boolean> {
  return (await find(db, PictureTable, { sha256 })) !== null;
}

/** Which of these are not there. */
export async function missingPictures(db: Db, digests: readonly string[]): Promise<string[]> {
  if (digests.length === 0) return [];
  const there = await db.getRepository(PictureTable).findBy({ sha256: In([...digests]) });
  const known = new Set(there.map((p) => p.sha256));
  return digests.filter((d) => !known.has(d));
}
