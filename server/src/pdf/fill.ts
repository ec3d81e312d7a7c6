import { type PDFDocument, PDFName, type PDFPage, rgb } from '@cantoo/pdf-lib';
import {
  chosenOf,
  type DocumentId,
  type Flow,
  fillsItsPage,
  fitAnswer,
  inkOutline,
  isOwnNote,
  type LongText,
  layOptions,
  type Mark,
  measureSet,
  notesIn,
  numberQuestions,
  type OwnNote,
  type PageFrame,
  type PageText,
  piecesIn,
  plainText,
  type Question,
  type QuestionId,
  type SetPiece,
  setFormulas,
  toPdf,
  unitIsPrinted,
  wrap,
} from '@jotmark/core';
import { rgb as inkRgb, n, polygon, polyline } from './drawing.ts';
import { Fonts } from './fonts.ts';
import { formulas } from './formula.ts';
import { LINED_SIGNS, writeLined } from './lined.ts';
import { OwnNotes } from './own-notes.ts';
import { readsLeft } from './reading-direction.ts';
import { measureIn, TYPED, writePieces, writeText } from './write-text.ts';

export interface ToFill {
  readonly questions: readonly Question[];
  readonly answers: Readonly<Record<QuestionId, string>>;
  /** Answers that grow, and where the pictures lie that they show. */
  readonly texts: Readonly<Record<QuestionId, LongText>>;
  readonly pictures: Readonly<Record<DocumentId, string>>;
  /** The student's drawing; document ids do not matter here. */
  readonly marks: readonly Mark[];
  readonly frames: readonly PageFrame[];
  /** Text of the clean worksheet, to see which units are printed. */
  readonly text: readonly PageText[];
}

/** Where nothing is filled in: what there is, is put over it. */
export const FILL_NOTHING: ToFill = {
  questions: [],
  answers: {},
  texts: {},
  pictures: {},
  marks: [],
  frames: [],
  text: [],
};

/**
 * Writes answers and drawing into the pages of a worksheet, as its own content: what is typed is text like print, to be
 * marked, searched and highlighted. An answer that finds no room in its place goes on, whole, on sheets behind. Pages must not
 * be turned by a Rotate of their own (worksheets are made upright when they come in). Gives which answers stand on pages of their own, and where what the student noted is numbered.
 */
export async function fillSheet(
  pdf: PDFDocument,
  what: ToFill,
): Promise<{ flows: Flow[]; notes: OwnNote[] }> {
  const answered = what.questions.filter((q) => (what.answers[q.id] ?? '').trim() !== '');
  const numbers = numberQuestions(what.questions);
  const ownNotes = what.marks.filter(isOwnNote).filter((m) => m.words.trim() !== '');
  const fonts = await Fonts.for(pdf, [
    ...Object.values(what.answers),
    ...Object.values(what.texts).map(plainText),
    LINED_SIGNS,
    OWN_NOTES,
    ...ownNotes.map((m) => m.words),
    ...Object.values(what.texts).flatMap(notesIn),
    ...what.questions.flatMap((q) => (q.answer.kind === 'choice' ? q.answer.options : [])),
    ...numbers.values(),
    CONTINUED,
  ]);
  const pages = pdf.getPages();
  for (const [index, page] of pages.entries()) {
    const frame = what.frames[index];
    if (!frame) continue;
    drawInk(
      pdf,
      page,
      frame,
      what.marks.filter((m) => m.page === index),
    );
  }
  const longer: { label: string; text: string }[] = [];
  for (const q of what.questions) {
    const page = pages[q.page];
    const frame = what.frames[q.page];
    const value = what.answers[q.id] ?? '';
    if (!page || !frame) continue;
    if (q.answer.kind === 'choice') {
      drawChoice(page, frame, fonts, q, value);
      continue;
    }
    if (!answered.includes(q)) continue;
    const unit =
      q.answer.kind === 'number' && !unitIsPrinted(q, what.text[q.page]) ? ` ${q.answer.unit}` : '';
    const set = setFormulas(value + unit, formulas);
    const { lines, size, rest } = fitAnswer(q, set.text, measureSet(set, measureIn(fonts)));
    const rows = piecesIn(
      lines.map((l) => l.text),
      set,
      measureIn(fonts),
      size,
    );
    const fromRight = readsLeft(value);
    for (const [i, line] of lines.entries()) {
      const x = fromRight ? q.box[2] - (line.x - q.box[0]) - fonts.width(line.text, size) : line.x;
      writePieces(page, frame, { fonts }, rows[i]!, x, line.y, size);
    }
    if (rest) longer.push({ label: numbers.get(q.id) ?? '', text: value });
  }
  const noted = new OwnNotes(fonts);
  for (const m of ownNotes) {
    const [page, frame] = [pages[m.page], what.frames[m.page]];
    if (page && frame) noted.add(page, frame, m.page, m.place.x, m.place.y, m.words);
  }
  const flows: Flow[] = [];
  for (const q of what.questions) {
    const text = what.texts[q.id];
    if (q.answer.kind !== 'long' || !text) continue;
    const own = fillsItsPage(q) ? (pages[q.page] ?? null) : null;
    const first = pdf.getPageCount();
    await writeLined(pdf, fonts, text, {
      own,
      label: numbers.get(q.id) ?? '',
      pictures: what.pictures,
      noted,
      ownIndex: q.page,
    });
    const grown = pdf.getPageCount() - first;
    if (grown > 0) flows.push({ question: q.id, page: first, pages: grown });
  }
  if (longer.length) writeBehind(pdf, fonts, CONTINUED, longer);
  if (noted.all.length)
    writeBehind(
      pdf,
      fonts,
      OWN_NOTES,
      noted.all.map(({ words }, i) => ({ label: String(i + 1), text: words })),
    );
  return { flows, notes: noted.all };
}

/** A text that is longer than a row, in rows from the left, each with its pieces. */
function rowsOf(fonts: Fonts, text: string, width: number, size: number): SetPiece[][] {
  const set = setFormulas(text, formulas);
  const measure = measureSet(set, measureIn(fonts));
  return piecesIn(
    wrap(set.text, width, (t) => measure(t, size)).map((r) => r.text),
    set,
    measureIn(fonts),
    size,
  );
}

/** The options with a ring each, the chosen ones filled. They stand on white: print below them would show through. */
function drawChoice(page: PDFPage, frame: PageFrame, fonts: Fonts, q: Question, value: string): void {
  const chosen = chosenOf(value);
  const [x0, y0] = toPdf(frame, [q.box[0], q.box[3]]);
  const [x1, y1] = toPdf(frame, [q.box[2], q.box[1]]);
  page.drawRectangle({ x: x0, y: y0, width: x1 - x0, height: y1 - y0, color: rgb(1, 1, 1) });
  const laid = layOptions(q, (t, s) => fonts.width(t, s));
  for (const option of laid.options) {
    const r = laid.size * 0.34;
    const [cx, cy] = toPdf(frame, [option.x + r, option.y - laid.size * 0.32]);
    const unit = frame.userUnit;
    page.drawCircle({
      x: cx,
      y: cy,
      size: r / unit,
      borderColor: rgb(0.2, 0.22, 0.25),
      borderWidth: 0.8 / unit,
    });
    if (chosen.includes(option.text))
      page.drawCircle({ x: cx, y: cy, size: (r * 0.62) / unit, color: TYPED });
    writeText(page, frame, { fonts }, option.text, option.x + laid.size * 0.95, option.y, laid.size);
  }
}

/** Ink and free highlights as page content. */
function drawInk(pdf: PDFDocument, page: PDFPage, frame: PageFrame, marks: readonly Mark[]): void {
  if (marks.length === 0) return;
  const parts: string[] = ['q'];
  for (const mark of marks) {
    const colour = inkRgb(mark.colour).map(n).join(' ');
    if (mark.kind === 'ink')
      parts.push(`${colour} rg ${polygon(frame, inkOutline(mark.points, mark.width))}`);
    else if (mark.kind === 'highlight' && mark.place.on === 'free')
      parts.push(
        `q /JotmarkWash gs ${colour} RG ${n(mark.place.width / frame.userUnit)} w 1 J 1 j ${polyline(frame, mark.place.points)} S Q`,
      );
  }
  parts.push('Q');
  const state = pdf.context.register(
    pdf.context.obj({ Type: 'ExtGState', BM: 'Multiply', ca: 0.55, CA: 0.55 }),
  );
  page.node.setExtGState(PDFName.of('JotmarkWash'), state);
  page.node.addContentStream(pdf.context.register(pdf.context.flateStream(parts.join('\n'))));
}

const OWN_NOTES = 'The student’s own notes';
const CONTINUED = 'Continued: this found no room in its place';
const SHEET = { width: 595, height: 842, left: 56, top: 64, bottom: 790, size: 11.5, leading: 16 } as const;

/** Sheets behind, with what stands nowhere else: the whole text of answers that found no room, by question, or what was noted, by number. */
function writeBehind(
  pdf: PDFDocument,
  fonts: Fonts,
  heading: string,
  answers: readonly { label: string; text: string }[],
): void {
  const frame: PageFrame = { crop: [0, 0, SHEET.width, SHEET.height], rotate: 0, userUnit: 1 };
  let page = pdf.addPage([SHEET.width, SHEET.height]);
  let y: number = SHEET.top;
  const line = (text: string | readonly SetPiece[], x: number, size: number = SHEET.size) => {
    if (y > SHEET.bottom) {
      page = pdf.addPage([SHEET.width, SHEET.height]);
      y = SHEET.top;
    }
    if (typeof text === 'string') writeText(page, frame, { fonts }, text, x, y, size);
    else writePieces(page, frame, { fonts }, text, x, y, size);
    y += SHEET.leading;
  };
  line(heading, SHEET.left, 13);
  for (const answer of answers) {
    y += SHEET.leading / 2;
    line(answer.label, SHEET.left, 13);
    y -= SHEET.leading;
    const rows = rowsOf(fonts, answer.text, SHEET.width - 2 * SHEET.left - 30, SHEET.size);
    for (const row of rows) line(row, SHEET.left + 30);
  }
}
