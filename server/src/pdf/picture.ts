import { readFile, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';
import { FILE_LIMITS, MOST_PIXELS_OF_A_PICTURE } from '@jotmark/core';
import sharp from 'sharp';
import { runBounded } from '../programs/bounded.ts';
import type { Budget } from '../programs/failed.ts';

/** A photo is kept this sharp for reading and marking: about 250 dots an inch on A4. */
const LONG_SIDE = 2900;
/** A drawing of lines has no dots of its own. */
const DRAWING_DPI = 144;
/** A page's long side in points: A4. */
const PAGE_SIDE = 842;

/** A picture as a PDF, turned upright as its EXIF says, see-through parts on white; a file of several pages gives as many. `partly`: it is damaged, and is shown as far as it could be read. */
export async function pictureToPdf(
  file: string,
  type: string,
): Promise<{ bytes: Uint8Array; partly: boolean }> {
  // A drawing is given as bytes: without a place of its own it names nothing beside it.
  const source = type === 'image/svg+xml' ? await readFile(file) : file;
  const { pages = 1, format } = await sharp(source, { limitInputPixels: false }).metadata();
  // Of a picture that moves, the first is shown.
  const count = format === 'tiff' ? Math.min(pages, FILE_LIMITS.pages) : 1;
  const pdf = await PDFDocument.create();
  let partly = false;
  for (let n = 0; n < count; n++) {
    const drawn = await drawPicture(source, n);
    partly ||= drawn.partly;
    const { data, info } = drawn;
    const image = await pdf.embedJpg(data);
    const scale = PAGE_SIDE / Math.max(info.width, info.height);
    const page = pdf.addPage([info.width * scale, info.height * scale]);
    page.drawImage(image, { x: 0, y: 0, width: page.getWidth(), height: page.getHeight() });
  }
  return { bytes: await pdf.save(), partly };
}

interface Drawn {
  readonly data: Buffer;
  readonly info: { readonly width: number; readonly height: number };
  readonly partly: boolean;
}

/** First as it should be; where something in it is wrong, as far as it goes. */
async function drawPicture(source: string | Buffer, page: number): Promise<Drawn> {
  const draw = (failOn: 'warning' | 'none') =>
    sharp(source, {
      limitInputPixels: MOST_PIXELS_OF_A_PICTURE,
      sequentialRead: true,
      page,
      failOn,
      density: typeof source === 'string' ? undefined : DRAWING_DPI,
    })
      .rotate()
      .resize({ width: LONG_SIDE, height: LONG_SIDE, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .jpeg({ quality: 85, mozjpeg: false })
      .toBuffer({ resolveWithObject: true });
  try {
    return { ...(await draw('warning')), partly: false };
  } catch {
    return { ...(await draw('none')), partly: true };
  }
}

/** What sharp does not read itself is made a picture that it does, by a program of Debian's; null: that did not work. */
export async function readablePicture(
  file: string,
  type: string,
  folder: string,
  budget: Budget,
): Promise<string | null> {
  const out = join(folder, `${basename(file)}.${type === 'image/bmp' ? 'png' : 'jpg'}`);
  if (type === 'image/bmp')
    // What is named in a file is not followed: this one file is read, and nothing else.
    await runBounded(
      'ffmpeg',
      ['-nostdin', '-protocol_whitelist', 'file', '-f', 'bmp_pipe', '-i', file, '-frames:v', '1', out],
      budget,
    );
  else if (type === 'image/heic') await runBounded('heif-convert', ['-q', '92', file, out], budget);
  else return file;
  return (await stat(out).catch(() => null))?.size ? out : null;
}
