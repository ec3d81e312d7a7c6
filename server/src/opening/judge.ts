import { open, readFile, stat } from 'node:fs/promises';
import { FILE_LIMITS, MOST_PIXELS_OF_A_PICTURE, type NoPages, pageSize, type Shows } from '@jotmark/core';
import sharp from 'sharp';
import { Fault } from '../fault.ts';
import { readFrames } from '../pdf/frames.ts';
import { openPdfFile } from '../pdf/pdf.ts';
import { type Budget, Failed } from '../programs/failed.ts';
import { qpdf } from '../programs/qpdf.ts';
import { kindOf } from './kind.ts';

/** What is known of an uploaded file after the first look. */
export interface Judged {
  readonly type: string;
  readonly shows: Shows;
  readonly trouble: NoPages | null;
  /** Pages of a PDF; 1 for a picture; 0 while it is not known. */
  readonly pages: number;
  /** Whether a mended form of it was written, which is to be opened afterwards in its place. */
  readonly mended: boolean;
}

/**
 * Takes any file and says what can be shown of it. PDFs are checked and counted; pictures are measured by their header only; office
 * documents become pages later. What cannot become pages is taken all the same, with the reason: it is kept and can
 * be scored. Throws a Fault for what is empty, too big, damaged or made to choke us, Failed for what costs too much. `mended` is where a mended form goes.
 */
export async function judge(path: string, name: string, mended: string, budget: Budget): Promise<Judged> {
  await sized(path, name);
  const kind = await kindOf(path, name);
  const { type } = kind;
  switch (kind.family) {
    case 'pdf':
      return { type, shows: 'pages', trouble: null, ...(await judgePdf(path, name, mended, budget)) };
    case 'picture':
      await measurePicture(path, name, type);
      return { type, shows: 'pages', trouble: null, pages: 1, mended: false };
    case 'office':
    case 'spreadsheet':
      return { type, shows: 'pages', trouble: null, pages: 0, mended: false };
    case 'sound':
    case 'film':
      return { type, shows: kind.family, trouble: null, pages: 0, mended: false };
    case 'other':
      return { type, shows: 'nothing', trouble: kind.trouble, pages: 0, mended: false };
  }
}

/** Asked before anything of a file is looked at. */
export async function sized(path: string, name: string): Promise<number> {
  const { size } = await stat(path);
  if (size === 0) throw new Fault('file-empty', { name });
  if (size > FILE_LIMITS.bytes) throw new Fault('file-too-big', { name, most: FILE_LIMITS.bytes });
  return size;
}

/**
 * Decides by content whether a PDF is taken, cheapest question first: first bytes, password, qpdf's check;
 * then an owner's password is taken off or a slip in the file's structure mended, and pages counted and measured.
 */
export async function judgePdf(
  path: string,
  name: string,
  mended: string,
  budget: Budget,
): Promise<{ pages: number; mended: boolean }> {
  if (!(await startsAsPdf(path))) throw new Fault('file-not-pdf', { name });
  const ran = async (...args: string[]): Promise<number> => {
    const { code } = await qpdf(args, budget);
    if (code === null) throw new Failed('too-slow', `qpdf ${args[0]}`);
    return code;
  };
  // 0: a password is needed, 2: not encrypted (or unreadable, which the check then says), 3: encrypted but open to all.
  const password = await ran('--requires-password', path);
  if (password === 0) throw new Fault('file-password', { name });
  const check = await ran('--check', path);
  if (check !== 0 && check !== 3) throw new Fault('file-damaged', { name });
  const mends = password === 3 || check === 3;
  if (mends) {
    const code = await ran('--decrypt', path, mended);
    if (code !== 0 && code !== 3) throw new Fault('file-damaged', { name });
  }
  const opened = mends ? mended : path;
  // Counted by qpdf first: five thousand pages are not worth opening.
  const { code, out } = await qpdf(['--show-npages', opened], budget);
  if (code === null) throw new Failed('too-slow', 'qpdf --show-npages');
  const count = Number.parseInt(out, 10);
  if (count > FILE_LIMITS.pages)
    throw new Fault('file-too-many-pages', { name, pages: count, most: FILE_LIMITS.pages });
  const frames = await openPdfFile(opened).then(readFrames, () => []);
  if (frames.length === 0) throw new Fault('file-damaged', { name });
  if (Math.max(...frames.flatMap((f) => [...pageSize(f)])) > FILE_LIMITS.side)
    throw new Fault('file-page-too-big', { name, most: FILE_LIMITS.side });
  return { pages: frames.length, mended: mends };
}

/** Only the header is read here; the pixels are opened when the pages are made. */
async function measurePicture(path: string, name: string, type: string): Promise<void> {
  // How large such a photo is stands deep inside; the program that opens it has a limit of its own.
  if (type === 'image/heic') return;
  const about =
    type === 'image/bmp'
      ? await bitmapSize(path)
      : await sharp(type === 'image/svg+xml' ? await readFile(path) : path, { limitInputPixels: false })
          .metadata()
          .catch(() => null);
  if (!about?.width || !about.height) throw new Fault('picture-broken', { name });
  if (about.width * about.height > MOST_PIXELS_OF_A_PICTURE)
    throw new Fault('picture-too-big', {
      name,
      megapixels: Math.round((about.width * about.height) / 1e6),
      most: MOST_PIXELS_OF_A_PICTURE / 1e6,
    });
}

/** [MS-BMP]: the oldest form has two bytes each, all others four; upside down the height is negative. */
async function bitmapSize(path: string): Promise<{ width: number; height: number }> {
  const file = await open(path);
  try {
    const { buffer } = await file.read(Buffer.alloc(26), 0, 26, 0);
    return buffer.readUInt32LE(14) === 12
      ? { width: buffer.readUInt16LE(18), height: buffer.readUInt16LE(20) }
      : { width: Math.abs(buffer.readInt32LE(18)), height: Math.abs(buffer.readInt32LE(22)) };
  } finally {
    await file.close();
  }
}

/** The header may stand anywhere in the first kilobyte (ISO 32000-1, Annex H, note 13). */
async function startsAsPdf(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(1024), 0, 1024, 0);
    return buffer.subarray(0, bytesRead).includes('%PDF-');
  } finally {
    await file.close();
  }
}
