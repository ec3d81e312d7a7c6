import { type Box, rulesInPicture } from '@jotmark/core';
import { drawPage } from './draw-page.ts';

/** Pixels a point at which lines of a scan are looked for: about 100 to the inch. */
const SCALE = 1.4;
/** Pages larger than this, in pixels a side, are looked at more coarsely. */
const LARGEST = 2400;
const WHITE = 0xffffffff;

/** The level rules of a scanned page, in page space. A page that cannot be drawn has none. */
export async function scannedRules(bytes: Uint8Array, index: number): Promise<Box[]> {
  let scale = SCALE;
  const drawn = await drawPage(
    bytes,
    WHITE,
    (w, h) => {
      scale = Math.min(SCALE, LARGEST / Math.max(w, h));
      return scale;
    },
    index,
  ).catch(() => null);
  if (!drawn) return [];
  const { width, height, pixels: colours } = drawn;
  const pixels = new Uint8Array(width * height);
  for (let i = 0; i < pixels.length; i++)
    pixels[i] = (colours[4 * i]! + 2 * colours[4 * i + 1]! + colours[4 * i + 2]!) >> 2;
  return rulesInPicture({ width, height, pixels }, scale);
}
