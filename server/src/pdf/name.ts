import type { PDFDocument } from '@cantoo/pdf-lib';
import { namePlace, type PageFrame, type PageText, pageSize } from '@jotmark/core';
import { Fonts } from './fonts.ts';
import { writeText } from './write-text.ts';

const FOOT = { left: 36, up: 14, size: 8 } as const;

/**
 * Writes whose copy it is on every page: where the page asks for a name, else small at its foot. Only what leaves Jotmark
 * carries the name in its pages; at the desk it stands beside them, where it can be hidden.
 */
export async function writeNames(
  pdf: PDFDocument,
  name: string,
  frames: readonly PageFrame[],
  text: readonly PageText[],
): Promise<void> {
  const fonts = await Fonts.for(pdf, [name]);
  for (const [i, page] of pdf.getPages().entries()) {
    const frame = frames[i];
    if (!frame) continue;
    const place = text[i] && namePlace(text[i]);
    const [, height] = pageSize(frame);
    if (place) writeText(page, frame, { fonts }, name, place.x, place.y, 11);
    else writeText(page, frame, { fonts }, name, FOOT.left, height - FOOT.up, FOOT.size);
  }
}
