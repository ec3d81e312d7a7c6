import {
  degrees,
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFPage,
  PDFRawStream,
  type PDFRef,
  PDFStream,
  rgb as pdfRgb,
} from '@cantoo/pdf-lib';
import {
  type Box,
  boxAround,
  clockOf,
  inReadingOrder,
  isClip,
  isEcho,
  isMarginMark,
  leadPoint,
  type MarginMark,
  type PageFrame,
  placesOf,
  quarterTurn,
  recordingOf,
  spokenWords,
  toPdf,
  withEchoes,
} from '@jotmark/core';
import { n, rgb } from './drawing.ts';
import { Fonts } from './fonts.ts';
import { writeList } from './list-pages.ts';
import { contentsOf } from './said.ts';
import { Upright } from './upright.ts';
import { allCarried, type Drawn, type ToAnnotate, Writer } from './write-marks.ts';

const NUMBER = { radius: 6.5, size: 8 } as const;

/**
 * Draws marks into the pages themselves, for printing. What stands in the margin at the desk gets a number at its place, and its
 * words stand under that number on sheets behind: whole, however long.
 */
export async function flattenMarks(pdf: PDFDocument, what: ToAnnotate): Promise<number> {
  const notes = inReadingOrder(what.marks).filter(isMarginMark);
  const numbers = new Map(notes.map((note, i) => [note.id, i + 1]));
  const fonts = await Fonts.for(pdf, [
    '0123456789. → “”×•',
    HEADING,
    what.author,
    ...notes.flatMap((note) => [saidBy(note), note.focus ?? '']),
  ]);
  const written = await drawMarks(pdf, what, (page, frame, mark) =>
    drawNumber(page, frame, fonts, mark, String(numbers.get(mark.id))),
  );
  if (notes.length)
    writeList(
      pdf,
      fonts,
      `${HEADING}, ${what.author}`,
      notes.map((note, i) => ({
        sign: String(i + 1),
        text: note.focus ? `${note.focus}: ${saidBy(note)}` : saidBy(note),
      })),
    );
  return written;
}

/** Draws marks into the pages as their own content; what stands in the margin is pointed to by `number`, where it has one. Gives how many there are. */
export async function drawMarks(
  pdf: PDFDocument,
  what: ToAnnotate,
  number: ((page: PDFPage, frame: PageFrame, mark: MarginMark) => void) | null = null,
): Promise<number> {
  const writer = new Writer(
    pdf.context,
    what.author,
    await Upright.for(pdf, what.marks, what.bytes),
    await allCarried(what.marks, what.bytes),
    what.bytes,
  );
  let written = 0;
  const everywhere = withEchoes(what.marks);
  for (const [index, page] of pdf.getPages().entries()) {
    const frame = what.frames[index];
    if (!frame) continue;
    const turn = what.turns[String(index)] ?? 0;
    if (turn) page.setRotation(degrees(quarterTurn(page.getRotation().angle + turn)));
    const marks = everywhere.filter((m) => m.page === index);
    if (marks.length === 0) continue;
    // A note's sign at a spot is its number.
    const shown = marks.filter((m) => !number || m.kind !== 'note' || m.place.on !== 'spot');
    drawForms(
      pdf,
      page,
      shown.flatMap((mark) => writer.draw(mark, frame, page)),
    );
    for (const mark of marks) if (number && isMarginMark(mark)) number(page, frame, mark);
    written += marks.filter((m) => !isEcho(m)).length;
  }
  return written;
}

/** Puts appearances where their annotations would be (ISO 32000-1, 12.5.5: the box of the turned BBox fills the Rect). */
function drawForms(pdf: PDFDocument, page: PDFPage, forms: readonly Drawn[]): void {
  ownResources(pdf, page);
  const parts = ['q'];
  for (const [i, { look, rect }] of forms.entries()) {
    const name = `JTMK${i}`;
    page.node.setXObject(PDFName.of(name), look);
    const [x0, y0, x1, y1] = turnedBox(pdf, look);
    const sx = (rect[2] - rect[0]) / Math.max(0.001, x1 - x0);
    const sy = (rect[3] - rect[1]) / Math.max(0.001, y1 - y0);
    parts.push(
      `q ${sx.toFixed(5)} 0 0 ${sy.toFixed(5)} ${n(rect[0] - x0 * sx)} ${n(rect[1] - y0 * sy)} cm /${name} Do Q`,
    );
  }
  parts.push('Q');
  // The page's own content may leave the graphics state as it likes: it is put between two brackets first.
  const { context } = pdf;
  page.node.normalize();
  page.node.wrapContentStreams(context.register(context.stream('q')), context.register(context.stream('Q')));
  page.node.addContentStream(context.register(context.flateStream(parts.join('\n'))));
}

/** Pages may share one dictionary of resources: each that is written on gets its own, or the names on one would mean what they mean on another. */
function ownResources(pdf: PDFDocument, page: PDFPage): void {
  const { Resources } = page.node.normalizedEntries();
  const own = Resources.clone(pdf.context);
  const forms = own.lookup(PDFName.of('XObject'));
  if (forms instanceof PDFDict) own.set(PDFName.of('XObject'), forms.clone(pdf.context));
  page.node.set(PDFName.of('Resources'), own);
}

/** The box that a form fills once its own matrix has turned it. */
function turnedBox(pdf: PDFDocument, look: PDFRef): Box {
  const stream = pdf.context.lookup(look);
  if (!(stream instanceof PDFStream || stream instanceof PDFRawStream)) throw new Error('no form');
  const read = (key: string, otherwise: number[]) => {
    const value = stream.dict.lookup(PDFName.of(key));
    return value instanceof PDFArray
      ? value.asArray().map((v) => (v instanceof PDFNumber ? v.asNumber() : 0))
      : otherwise;
  };
  const [l, b, r, t] = read('BBox', [0, 0, 1, 1]) as [number, number, number, number];
  const [ma, mb, mc, md, me, mf] = read('Matrix', [1, 0, 0, 1, 0, 0]) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const corners = [
    [l, b],
    [r, t],
  ] as const;
  return boxAround(
    corners.map(([x, y]): Box => {
      const [px, py] = [ma * x + mc * y + me, mb * x + md * y + mf];
      return [px, py, px, py];
    }),
  )!;
}

function drawNumber(page: PDFPage, frame: PageFrame, fonts: Fonts, mark: MarginMark, number: string): void {
  const [r, g, b] = rgb(mark.colour) as [number, number, number];
  const colour = pdfRgb(r, g, b);
  const [x, y] = toPdf(frame, leadPoint(mark));
  const u = 1 / frame.userUnit;
  const spot = mark.place.on === 'spot';
  // Beside what it is about, so that nothing is covered; a spot is covered by its own number.
  const cx = spot ? x : x + (NUMBER.radius + 2) * u;
  const cy = spot ? y : y + (NUMBER.radius + 4) * u;
  page.drawCircle({
    x: cx,
    y: cy,
    size: NUMBER.radius * u,
    color: pdfRgb(1, 1, 1),
    borderColor: colour,
    borderWidth: 1.1 * u,
  });
  const size = (number.length > 2 ? NUMBER.size - 2 : NUMBER.size) * u;
  const angle = page.getRotation().angle;
  const [run] = fonts.runs(number);
  const w = fonts.width(number, size) / 2;
  const h = size * 0.34;
  const rad = (angle * Math.PI) / 180;
  page.drawText(number, {
    x: cx - w * Math.cos(rad) + h * Math.sin(rad),
    y: cy - w * Math.sin(rad) - h * Math.cos(rad),
    size,
    font: run!.font,
    color: colour,
    rotate: degrees(angle),
  });
}

const HEADING = 'Notes';
const asTyped = (words: string) => words;

/** What a note says, or a suggestion proposes. */
export function saidBy(note: MarginMark): string {
  const answers = note.replies?.map((reply) => `${reply.by || '–'}: ${reply.said}`) ?? [];
  const why = note.kind !== 'note' && note.reason ? [note.reason] : [];
  const recording = recordingOf(note);
  // Without words of its own a note says what is said in it.
  if (recording)
    why.push(
      `(${isClip(recording) ? 'clip' : 'voice note'}, ${clockOf(recording.ms)})`,
      ...(note.kind === 'note' && note.words.trim() ? [spokenWords(recording)] : []),
    );
  return [proposed(note), ...why, ...answers].filter(Boolean).join('\n');
}

function proposed(note: MarginMark): string {
  switch (note.kind) {
    case 'note':
      return `${contentsOf(note, asTyped)}${placesOf(note) > 1 ? ` (${placesOf(note)} ×)` : ''}`;
    case 'cut':
      return `“${note.place.quote.exact}” ×`;
    case 'add':
      return `“${note.place.quote.exact}” → “${note.place.quote.exact} ${note.words}”`;
    case 'swap':
      return `“${note.place.quote.exact}” → “${note.words}”`;
  }
}
