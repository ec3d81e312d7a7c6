import { degrees, type PDFDocument, type PDFPage, rgb as pdfRgb } from '@cantoo/pdf-lib';
import {
  formatSigned,
  inReadingOrder,
  isMarginMark,
  leadPoint,
  type MarginMark,
  type PageFrame,
  type PageView,
  packMargin,
  pageSize,
  quarterTurn,
  textRows,
  toScreen,
  viewSize,
} from '@jotmark/core';
import { n, rgb } from './drawing.ts';
import { drawMarks, saidBy } from './flat.ts';
import { Fonts } from './fonts.ts';
import { formulas } from './formula.ts';
import type { ToAnnotate } from './write-marks.ts';
import { writePieces } from './write-text.ts';

/** The margin beside a page, in points of the sheet. */
const MARGIN = { wide: 190, side: 12, top: 14, gap: 7, size: 9.5, leading: 12.5, bar: 2 } as const;
const RULE = '0.85 0.71 0.71 RG 0.8 w';

interface Note {
  readonly note: MarginMark;
  readonly rows: ReturnType<typeof textRows>;
  readonly at: readonly [number, number];
}

/**
 * Puts each page with its margin beside it on one sheet, as the desk shows it: the notes level with their places, joined to them by a lead, with what they are
 * about and what they earn. Where the notes need more room than the page is high the sheet is longer; nothing is cut off. Pages without notes stay as they are.
 */
export async function besideMarks(pdf: PDFDocument, what: ToAnnotate): Promise<number> {
  const written = await drawMarks(pdf, what);
  const notes = inReadingOrder(what.marks).filter(isMarginMark);
  const fonts = await Fonts.for(pdf, [
    '0123456789. → “”×•–+−½¼¾:',
    ...notes.flatMap((note) => [textOf(note)]),
  ]);
  for (const [index, page] of pdf.getPages().entries()) {
    const frame = what.frames[index];
    const here = notes.filter((m) => m.page === index);
    if (!frame || here.length === 0) continue;
    await widen(pdf, page, index, frame, fonts, here);
  }
  return written;
}

function textOf(note: MarginMark): string {
  const points = note.kind === 'note' && note.points !== undefined ? `${formatSigned(note.points)}  ` : '';
  return `${points}${note.focus ? `*${note.focus}:* ` : ''}${saidBy(note)}`;
}

/** Puts a wider sheet in the place of a page: the page as it is read, upright, and its notes beside it. */
async function widen(
  pdf: PDFDocument,
  page: PDFPage,
  index: number,
  frame: PageFrame,
  fonts: Fonts,
  marks: readonly MarginMark[],
): Promise<void> {
  const turn = quarterTurn(page.getRotation().angle);
  const [width, height] = pageSize({ ...frame, userUnit: 1 });
  const view: PageView = { width, height, turn, zoom: 1 };
  const [wide, high] = viewSize(view);
  const room = MARGIN.wide - 2 * MARGIN.side;
  const notes: Note[] = marks.map((note) => {
    const [x, y] = leadPoint(note);
    return {
      note,
      rows: textRows(
        { words: textOf(note), w: room, size: MARGIN.size },
        (t, s) => fonts.width(t, s),
        formulas,
      ),
      at: toScreen(view, [x / frame.userUnit, y / frame.userUnit]),
    };
  });
  const items = notes.map(({ rows, at }) => ({
    want: at[1] - MARGIN.size,
    height: rows.length * MARGIN.leading,
  }));
  const all = items.reduce((sum, i) => sum + i.height + MARGIN.gap, 2 * MARGIN.top);
  const sheetHigh = Math.max(high, all);
  const packed = packMargin(items, sheetHigh - 2 * MARGIN.top, MARGIN.gap);
  const tops = packed.fits ? packed.tops : items.map(() => 0);

  const [x0, y0, x1, y1] = frame.crop;
  const shown = await pdf.embedPage(page, { left: x0, bottom: y0, right: x1, top: y1 });
  const sheet = pdf.insertPage(index, [wide + MARGIN.wide, sheetHigh]);
  pdf.removePage(index + 1);
  const [x, y] = { 0: [0, 0], 90: [0, width], 180: [width, height], 270: [height, 0] }[turn] as [
    number,
    number,
  ];
  sheet.drawPage(shown, { x, y: y + sheetHigh - high, rotate: degrees(turn === 0 ? 0 : 360 - turn) });
  const own: PageFrame = { crop: [0, 0, wide + MARGIN.wide, sheetHigh], rotate: 0, userUnit: 1 };
  const lines = [`q ${RULE} ${n(wide)} 0 m ${n(wide)} ${n(sheetHigh)} l S`];
  for (const [i, { note, rows, at }] of notes.entries()) {
    const [r, g, b] = rgb(note.colour) as [number, number, number];
    const top = tops[i]! + MARGIN.top;
    const left = wide + MARGIN.side;
    const up = (from: number) => n(sheetHigh - from);
    // The lead: thin, from the place to the edge of the page, then to where the note had to move.
    lines.push(
      `${n(r)} ${n(g)} ${n(b)} RG 0.45 w ${n(at[0])} ${up(at[1])} m ${n(wide)} ${up(at[1])} l ${n(left - 3)} ${up(top + MARGIN.size / 2)} l S`,
      `${n(r)} ${n(g)} ${n(b)} rg ${n(left - 5)} ${up(top + rows.length * MARGIN.leading - 3)} ${MARGIN.bar} ${n(rows.length * MARGIN.leading - 2)} re f`,
    );
    for (const [k, { pieces, right }] of rows.entries())
      writePieces(
        sheet,
        own,
        { fonts, colour: pdfRgb(0.1, 0.1, 0.12) },
        pieces,
        left + right,
        top + MARGIN.size + k * MARGIN.leading - 2,
        MARGIN.size,
      );
  }
  lines.push('Q');
  const { context } = pdf;
  sheet.node.addContentStream(context.register(context.flateStream(lines.join('\n'))));
}
