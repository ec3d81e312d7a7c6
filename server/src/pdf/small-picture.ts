import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { drawPage } from './draw-page.ts';

/** Wide enough for a sheet in the pile, on a sharp screen as well. */
const WIDTH = 300;
const HEIGHT = 424;
const WHITE = 0xffffffff;

/** A small picture of the first page as JPEG at `to`. A page that cannot be drawn has none: nothing is written. */
export async function writePicture(bytes: Uint8Array, to: string): Promise<void> {
  const drawn = await drawPage(bytes, WHITE, (w, h) => Math.min(WIDTH / w, HEIGHT / h));
  if (!drawn) return;
  const { pixels, width, height } = drawn;
  const raw = sharp(pixels, { raw: { width, height, channels: 4 } });
  await writeFile(to, await raw.removeAlpha().jpeg({ quality: 72 }).toBuffer());
}
