import { rm } from 'node:fs/promises';
import { FILE_LIMITS, MOST_FILES } from '@jotmark/core';
import type { Request, Response } from 'express';
import multer, { MulterError } from 'multer';
import { tidyName } from '../blobs/file-name.ts';
import { Fault } from '../fault.ts';
import { ownFolder } from '../programs/own-folder.ts';

export interface Received {
  readonly path: string;
  readonly name: string;
}

/** Streams one uploaded file to disk and hands it to `use`; whatever happens, nothing of it stays on disk afterwards. */
export function receiveFile<T>(req: Request, res: Response, use: (file: Received) => Promise<T>): Promise<T> {
  return receiveFiles(req, res, 1, ([file]) => use(file!));
}

/** The same for up to `most` files in one request, in the order they came. */
export async function receiveFiles<T>(
  req: Request,
  res: Response,
  most: number,
  use: (files: readonly Received[]) => Promise<T>,
): Promise<T> {
  const folder = await ownFolder('in');
  let n = 0;
  try {
    const upload = multer({
      storage: multer.diskStorage({
        destination: folder,
        filename: (_req, _file, done) => done(null, `upload${n++}`),
      }),
      limits: { fileSize: FILE_LIMITS.bytes, files: most, fields: 0, parts: most + 1, headerPairs: 20 },
      defParamCharset: 'utf8',
    }).array('file', most);
    await new Promise<void>((resolve, reject) => {
      const cutOff = () => {
        if (!req.complete) reject(new Fault('upload-cut-off'));
      };
      req.once('close', cutOff);
      // It may have been cut off before anybody listened.
      if (req.destroyed) cutOff();
      upload(req, res, (error: unknown) => (error ? reject(asFault(error)) : resolve()));
    });
    const files = (req.files ?? []) as Express.Multer.File[];
    if (files.length === 0) throw new Fault('bad-input', { what: 'file' });
    return await use(files.map((file) => ({ path: file.path, name: tidyName(file.originalname) })));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

function asFault(error: unknown): unknown {
  if (error instanceof MulterError)
    return error.code === 'LIMIT_FILE_SIZE'
      ? new Fault('file-too-big', { most: FILE_LIMITS.bytes })
      : // More than may be comes as the field being unexpected too: another field is no file of ours at all.
        error.code === 'LIMIT_FILE_COUNT' ||
          (error.code === 'LIMIT_UNEXPECTED_FILE' && error.field === 'file')
        ? new Fault('too-many-files', { most: MOST_FILES })
        : new Fault('bad-input', { what: 'file' });
  const message = error instanceof Error ? error.message : '';
  if (/boundary|content.?type|unsupported/i.test(message)) return new Fault('bad-input', { what: 'body' });
  return /unexpected end|aborted|malformed/i.test(message) ? new Fault('upload-cut-off') : error;
}
