import { withDocument } from './engine.ts';

export interface DrawnPage {
  readonly width: number;
  readonly height: number;
  /** Red, green, blue and alpha of each pixel. */
  readonly pixels: Uint8Array;
}

/** PDFium's own flags: draw annotations; and give red before blue, which it does not by itself. */
const ANNOTATIONS = 0x01;
const RED_FIRST = 0x10;

/**
 * Draws a page of a document, the first where none is named, with its annotations, on paper of this colour (0xAARRGGBB; 0: see-through), as large as `scale` makes of its
 * size in points. Null when it cannot be drawn.
 */
export async function drawPage(
  bytes: Uint8Array,
  paper: number,
  scale: (width: number, height: number) => number,
  index = 0,
): Promise<DrawnPage | null> {
  const drawn = await withDocument(bytes, (engine, document) => {
    const page = engine.FPDF_LoadPage(document, index);
    if (!page) return null;
    const [wide, high] = [engine.FPDF_GetPageWidthF(page), engine.FPDF_GetPageHeightF(page)];
    const by = scale(wide, high);
    const width = Math.max(1, Math.round(wide * by));
    const height = Math.max(1, Math.round(high * by));
    const bitmap = engine.FPDFBitmap_Create(width, height, 1);
    try {
      engine.FPDFBitmap_FillRect(bitmap, 0, 0, width, height, paper);
      engine.FPDF_RenderPageBitmap(bitmap, page, 0, 0, width, height, 0, ANNOTATIONS | RED_FIRST);
      const at = engine.FPDFBitmap_GetBuffer(bitmap);
      const heap = (engine.pdfium as unknown as { HEAPU8: Uint8Array }).HEAPU8;
      return { width, height, pixels: heap.slice(at, at + width * height * 4) };
    } finally {
      engine.FPDFBitmap_Destroy(bitmap);
      engine.FPDF_ClosePage(page);
    }
  });
  return drawn;
}
