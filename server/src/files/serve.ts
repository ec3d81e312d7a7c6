import { pipeline } from 'node:stream/promises';
import type { Request, Response } from 'express';
import type { House } from '../house.ts';
import { blobSize, readBlob } from './blob.ts';

/** Sends a kept PDF, whole or by one range, never to be run or guessed at by the browser. */
export async function sendPdf(
  house: House,
  req: Request,
  res: Response,
  sha256: string,
  download: string | null,
): Promise<void> {
  const size = await blobSize(house.db, sha256);
  res.set({
    'Content-Type': 'application/pdf',
    'X-Content-Type-Options': 'nosniff',
    'Content-Security-Policy': "sandbox; default-src 'none'",
    'Accept-Ranges': 'bytes',
    'Cache-Control': 'private, max-age=31536000, immutable',
    ETag: `"${sha256}"`,
  });
  if (download) res.attachment(download);
  if (req.headers['if-none-match'] === `"${sha256}"`) {
    res.status(304).end();
    return;
  }
  const ranges = req.range(size, { combine: true });
  if (ranges === -1) {
    res.status(416).set('Content-Range', `bytes */${size}`).end();
    return;
  }
  const range = Array.isArray(ranges) && ranges.type === 'bytes' && ranges.length === 1 ? ranges[0]! : null;
  const { start, end } = range ?? { start: 0, end: size - 1 };
  res.status(range ? 206 : 200).set('Content-Length', String(end - start + 1));
  if (range) res.set('Content-Range', `bytes ${start}-${end}/${size}`);
  await pipeline(readBlob(house.db, sha256, start, end), res);
}
