import { pipeline } from 'node:stream/promises';
import type { Request, Response } from 'express';
import type { House } from '../house.ts';
import { blobSize, readBlob, streamOf } from './blob.ts';

export interface Sending {
  readonly sha256: string;
  readonly type: string;
  /** Save it under this name; null: it is shown in one of our pages. */
  readonly download: string | null;
}

/** What a browser may show inside our pages; all else is only ever saved. */
const SHOWN = /^(application\/pdf|image\/(jpeg|png|webp)|(audio|video)\/[\w.+-]+)$/;

/** Sends a kept file, whole or by one range, never to be run or guessed at by the browser. */
export async function sendFile(house: House, req: Request, res: Response, what: Sending): Promise<void> {
  const { sha256 } = what;
  const size = await blobSize(house.db.manager, sha256);
  const shown = SHOWN.test(what.type);
  res.set({
    'Content-Type': shown ? what.type : 'application/octet-stream',
    'X-Content-Type-Options': 'nosniff',
    'Content-Security-Policy': "sandbox; default-src 'none'",
    'Accept-Ranges': 'bytes',
    // Asked for each time, and then not sent again: who may see it is asked too, also in a browser that several share.
    'Cache-Control': 'private, no-cache',
    ETag: `"${sha256}"`,
  });
  if (what.download !== null || !shown) res.attachment(what.download ?? 'file');
  // `attachment` guesses a type from the name; ours was told by the content.
  res.set('Content-Type', shown ? what.type : 'application/octet-stream');
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
  await pipeline(readBlob(house.db.manager, sha256, start, end), res);
}

/** Sends kept JSON as an answer: it is passed on as it lies there, unopened. Nothing is kept: an empty list. */
export async function sendKeptJson(house: House, res: Response, sha256: string | null): Promise<void> {
  res.set({ 'Content-Type': 'application/json; charset=utf-8', 'Cache-Control': 'no-store' });
  if (sha256 === null) res.end('[]');
  else await pipeline(streamOf(house.db.manager, sha256), res);
}
