import {
  degrees,
  type PDFPage,
  popGraphicsState,
  pushGraphicsState,
  type RGB,
  rgb,
  setLineWidth,
  setStrokingColor,
  setTextRenderingMode,
  TextRenderingMode,
} from '@cantoo/pdf-lib';
import { type Measure, type PageFrame, type SetPiece, toPdf } from '@jotmark/core';
import { n } from './drawing.ts';
import type { Fonts } from './fonts.ts';
import { drawOutlines } from './formula.ts';

/** Typed answers are dark, a little blue, so that they are told from print. */
export const TYPED: RGB = rgb(0.1, 0.16, 0.36);

/** How far italic leans, in degrees; how broad the line is round letters that are bold, as a share of their size. */
const LEAN = 11;
const PRINT_BOLD = 0.03;

/** What is written with. */
export interface Pen {
  readonly fonts: Fonts;
  /** Left out: as answers are typed. */
  readonly colour?: RGB;
}

/** Writes a row of letters, its baseline beginning at x, y in page space. */
export function writeText(
  page: PDFPage,
  frame: PageFrame,
  { fonts, colour = TYPED }: Pen,
  text: string,
  x: number,
  y: number,
  size: number,
  lean = 0,
) {
  let at = x;
  const runs = fonts.runs(text);
  for (const [i, run] of runs.entries()) {
    const [px, py] = toPdf(frame, [at, y]);
    page.drawText(run.text, {
      x: px,
      y: py,
      size: size / frame.userUnit,
      font: run.font,
      color: colour,
      ySkew: degrees(lean),
    });
    // Laying letters out is what writing costs: it is done once more only where something follows.
    if (i + 1 < runs.length) at += run.font.widthOfTextAtSize(run.text, size);
  }
}

export const measureIn =
  (fonts: Fonts): Measure =>
  (text, size) =>
    fonts.width(text, size);

/**
 * A row of set words. A formula is drawn as outlines; what was typed for it lies unseen over them, so that it is found, read aloud and quoted like all
 * else on the page.
 */
export function writePieces(
  page: PDFPage,
  frame: PageFrame,
  pen: Pen,
  pieces: readonly SetPiece[],
  x: number,
  y: number,
  size: number,
): void {
  const { fonts, colour = TYPED } = pen;
  for (const piece of pieces) {
    const u = 1 / frame.userUnit;
    if (piece.as === 'text') {
      if (piece.bold)
        page.pushOperators(
          pushGraphicsState(),
          setTextRenderingMode(TextRenderingMode.FillAndOutline),
          setLineWidth(size * PRINT_BOLD * u),
          setStrokingColor(colour),
        );
      writeText(page, frame, pen, piece.text, x + piece.x, y, size, piece.italic ? LEAN : 0);
      if (piece.bold) page.pushOperators(popGraphicsState());
      continue;
    }
    const [px, py] = toPdf(frame, [x + piece.x, y]);
    const { red, green, blue } = colour;
    const drawing = `q ${n(red)} ${n(green)} ${n(blue)} rg\n${drawOutlines(piece.drawn, px, py, piece.size * u)}\nQ`;
    const { context } = page.doc;
    page.node.addContentStream(context.register(context.flateStream(drawing)));
    const typed = `$${piece.tex}$`;
    const narrow = Math.min(1, piece.width / fonts.width(typed, size));
    page.pushOperators(pushGraphicsState(), setTextRenderingMode(TextRenderingMode.Invisible));
    writeText(page, frame, pen, typed, x + piece.x, y, size * narrow);
    page.pushOperators(popGraphicsState());
  }
}
