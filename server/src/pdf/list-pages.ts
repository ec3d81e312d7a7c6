import type { PDFDocument, PDFPage } from '@cantoo/pdf-lib';
import { type PageFrame, textRows } from '@jotmark/core';
import type { Fonts } from './fonts.ts';
import { formulas } from './formula.ts';
import { writePieces, writeText } from './write-text.ts';

/** A sheet of our own, A4 upright, in points. */
const SHEET = { width: 595, height: 842, left: 56, top: 72, bottom: 786, size: 11.5, leading: 16 } as const;
export const SHEET_FRAME: PageFrame = { crop: [0, 0, SHEET.width, SHEET.height], rotate: 0, userUnit: 1 };
/** Room for what stands before each item: a number, or a time. */
const SIGN_WIDTH = 40;

export interface ListItem {
  /** A number, or a time. */
  readonly sign: string;
  readonly text: string;
}

/** Where an item begins: its page, and its line in page space. */
export interface ListPlace {
  readonly page: PDFPage;
  readonly y: number;
}

/** Puts a list on sheets of its own behind the others: whole, however long. Gives where each item begins. */
export function writeList(
  pdf: PDFDocument,
  fonts: Fonts,
  heading: string,
  items: readonly ListItem[],
): ListPlace[] {
  let page = pdf.addPage([SHEET.width, SHEET.height]);
  let y: number = SHEET.top;
  const row = (text: string, x: number, size: number = SHEET.size) =>
    writeText(page, SHEET_FRAME, { fonts }, text, x, y, size);
  const down = (by: number) => {
    y += by;
    if (y <= SHEET.bottom) return;
    page = pdf.addPage([SHEET.width, SHEET.height]);
    y = SHEET.top;
  };
  row(heading, SHEET.left, 14);
  down(SHEET.leading * 1.6);
  const wide = SHEET.width - 2 * SHEET.left - SIGN_WIDTH;
  return items.map(({ sign, text }) => {
    const place = { page, y };
    row(sign, SHEET.left);
    const rows = textRows({ words: text, w: wide, size: SHEET.size }, (t, s) => fonts.width(t, s), formulas);
    for (const { pieces, right } of rows) {
      writePieces(page, SHEET_FRAME, { fonts }, pieces, SHEET.left + SIGN_WIDTH + right, y, SHEET.size);
      down(SHEET.leading);
    }
    down(SHEET.leading * 0.4);
    return place;
  });
}
