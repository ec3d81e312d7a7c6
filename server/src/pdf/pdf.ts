import { readFile } from 'node:fs/promises';
import { PDFDocument } from '@cantoo/pdf-lib';

/** Opens bytes that qpdf has passed. Everything at once: there is no screen here to keep alive. */
export function openPdf(bytes: Uint8Array): Promise<PDFDocument> {
  return PDFDocument.load(bytes, { parseSpeed: Number.POSITIVE_INFINITY, updateMetadata: false });
}

export async function openPdfFile(path: string): Promise<PDFDocument> {
  return openPdf(await readFile(path));
}

/** Saves packed, as pdf-lib does by itself. */
export function savePdf(pdf: PDFDocument): Promise<Uint8Array> {
  return pdf.save({ objectsPerTick: Number.POSITIVE_INFINITY, updateFieldAppearances: false });
}
