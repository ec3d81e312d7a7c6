import { PDFDocument, type PDFPage, rgb } from '@cantoo/pdf-lib';
import { type CoverPart, type CoverSheet, type Recording, textRows } from '@jotmark/core';
import { rgb as inkRgb, n } from './drawing.ts';
import { Fonts } from './fonts.ts';
import { formulas } from './formula.ts';
import { SHEET_FRAME } from './list-pages.ts';
import { aboutCopy, attachVoice, type VoicesOf } from './voices.ts';
import { type Pen, writePieces, writeText } from './write-text.ts';

/** A4 upright, in points. */
const SHEET = { wide: 595, high: 842, side: 56, top: 64, bottom: 786 } as const;
const ROOM = SHEET.wide - 2 * SHEET.side;
const SIZE = { title: 20, under: 10.5, heading: 13, text: 11, hand: 15 } as const;
const LEADING = 1.45;
const BEFORE_PART = 16;
const AFTER_LINE = 4;
/** A heading does not stand alone at the foot of a sheet: so much goes with it. */
const WITH_HEADING = 5 * SIZE.text * LEADING;
/** A value at the right, such as points, has at least this room, and at most a third of the line; a longer one gets a line of its own. */
const VALUE = { least: 96, most: ROOM / 3, gap: 16 } as const;
const SOFT = rgb(0.36, 0.37, 0.4);
const RULE = '0.83 0.81 0.76 RG 0.7 w';
/** Where the sign of what is said about the whole copy stands. */
const VOICE_AT = [SHEET.wide - SHEET.side - 18, 44] as const;
/** What rows may begin with besides the words themselves. */
const SIGNS = '•0123456789.';

/** Makes the sheets that go in front of a marked copy; what is said about the whole copy hangs on the first. However long it is, all of it is there. */
export async function coverPages(
  { title, under, parts }: CoverSheet,
  author: string,
  about: Recording | null,
  voices: VoicesOf,
): Promise<PDFDocument> {
  const pdf = await PDFDocument.create();
  const print: Pen = { fonts: await Fonts.for(pdf, [title, under, SIGNS, ...textsOf(parts)]) };
  const hand = await handFor(
    pdf,
    parts.filter((p) => p.hand),
  );
  const sheets = new Sheets(pdf);
  const first = sheets.page;
  sheets.write(print, title, SIZE.title);
  sheets.write({ ...print, colour: SOFT }, under, SIZE.under);
  for (const part of parts) {
    sheets.room(part.heading ? WITH_HEADING : 0);
    sheets.down(BEFORE_PART);
    if (part.heading) {
      sheets.write(print, `**${part.heading}**`, SIZE.heading);
      sheets.rule();
    }
    for (const { text, value } of part.lines) {
      if (part.hand && hand) sheets.write(hand, text, SIZE.hand);
      else sheets.write(print, text, SIZE.text, value);
      sheets.down(AFTER_LINE);
    }
  }
  const at = about && { ...aboutCopy(about, author), at: VOICE_AT };
  const voice = at && attachVoice(pdf.context, first, SHEET_FRAME, at, voices);
  if (voice) first.node.addAnnot(voice);
  return pdf;
}

const textsOf = (parts: readonly CoverPart[]): string[] =>
  parts.flatMap((p) => [p.heading, ...p.lines.flatMap((l) => [l.text, l.value])]);

async function handFor(pdf: PDFDocument, parts: readonly CoverPart[]): Promise<Pen | null> {
  if (parts.length === 0) return null;
  const [red, green, blue] = inkRgb('garnet') as [number, number, number];
  return { fonts: await Fonts.for(pdf, [SIGNS, ...textsOf(parts)], 'hand'), colour: rgb(red, green, blue) };
}

/** Sheets that are written from the top, as many as it takes. */
class Sheets {
  readonly #pdf: PDFDocument;
  /** How far down the page is written. */
  #y: number = SHEET.top;
  page: PDFPage;

  constructor(pdf: PDFDocument) {
    this.#pdf = pdf;
    this.page = pdf.addPage([SHEET.wide, SHEET.high]);
  }

  /** Goes on with the next sheet where this one has not so much room left. */
  room(high: number): void {
    if (this.#y + high <= SHEET.bottom) return;
    this.page = this.#pdf.addPage([SHEET.wide, SHEET.high]);
    this.#y = SHEET.top;
  }

  down(high: number): void {
    this.#y += high;
  }

  /** Words with their light form, in rows; `value` at the right of the first. */
  write(pen: Pen, words: string, size: number, value = ''): void {
    const { fonts } = pen;
    const wide = fonts.width(value, size);
    const beside = value !== '' && wide <= VALUE.most;
    const room = beside ? ROOM - Math.max(VALUE.least, wide + VALUE.gap) : ROOM;
    const rows = textRows({ words, w: room, size }, (t, s) => fonts.width(t, s), formulas);
    for (const [i, { pieces, right }] of rows.entries()) {
      this.room(size * LEADING);
      this.down(size * LEADING);
      writePieces(this.page, SHEET_FRAME, pen, pieces, SHEET.side + right, this.#y, size);
      if (i === 0 && beside)
        writeText(this.page, SHEET_FRAME, pen, value, SHEET.wide - SHEET.side - wide, this.#y, size);
    }
    if (value && !beside) this.write(pen, value, size);
  }

  /** A thin line under what was written. */
  rule(): void {
    const y = n(SHEET.high - this.#y - 5);
    const drawn = `q ${RULE} ${SHEET.side} ${y} m ${SHEET.wide - SHEET.side} ${y} l S Q`;
    const { context } = this.#pdf;
    this.page.node.addContentStream(context.register(context.flateStream(drawn)));
    this.down(7);
  }
}
