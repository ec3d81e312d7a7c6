import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { withDocument } from './engine.ts';

/** Wide enough for a sheet in the pile, on a sharp screen as well. */
const WIDTH = 300;
const HEIGHT = 424;
/** Annotations are drawn, text is smoothed for paper. */
const FLAGS = 0x01 | 0x10;

/** A small picture of the first page as JPEG at `to`. A page that cannot be drawn has none: nothing is written. */
export async function writePicture(bytes: Uint8Array, to: string): Promise<void> {
  const drawn = await withDocument(bytes, (engine, document) => {
    const page = engine.FPDF_LoadPage(document, 0);
    if (!page) return null;
    const scale = Math.min(
      WIDTH / engine.FPDF_GetPageWidthF(page),
      HEIGHT / engine.FPDF_GetPageHeightF(page),
    );
    const width = Math.max(1, Math.round(engine.FPDF_GetPageWidthF(page) * scale));
    const height = Math.max(1, Math.round(engine.FPDF_GetPageHeightF(page) * scale));
    const bitmap = engine.FPDFBitmap_Create(width, height, 0);
    try {
      engine.FPDFBitmap_FillRect(bitmap, 0, 0, width, height, 0xffffffff);
      engine.FPDF_RenderPageBitmap(bitmap, page, 0, 0, width, height, 0, FLAGS);
      const at = engine.FPDFBitmap_GetBuffer(bitmap);
      const heap = (engine.pdfium as unknown as { HEAPU8: Uint8Array }).HEAPU8;
      return { width, height, pixels: heap.slice(at, at + width * height * 4) };
    } finally {
      engine.FPDFBitmap_Destroy(bitmap);
      engine.FPDF_ClosePage(page);
    }
  });
  if (!drawn) return;
  const { pixels, width, height } = drawn;
  // PDFium gives blue first.
  for (let i = 0; i < pixels.length; i += 4) [pixels[i], pixels[i + 2]] = [pixels[i + 2]!, pixels[i]!];
  const raw = sharp(pixels, { raw: { width, height, channels: 4 } });
  await writeFile(to, await raw.removeAlpha().jpeg({ quality: 72 }).toBuffer());
}
