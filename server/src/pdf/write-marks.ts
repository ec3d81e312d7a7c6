import { deflateSync } from 'node:zlib';
import {
  degrees,
  type PDFArray,
  type PDFContext,
  type PDFDocument,
  PDFHexString,
  PDFName,
  type PDFPage,
  type PDFRef,
} from '@cantoo/pdf-lib';
import {
  type Box,
  coverOf,
  grow,
  type InkColour,
  inkOutline,
  type Mark,
  never,
  type PageFrame,
  type QuarterTurn,
  quarterTurn,
  SPOT_RADIUS,
} from '@jotmark/core';
import {
  bandsPath,
  fill,
  inkList,
  list,
  n,
  pdfDate,
  polygon,
  polyline,
  quads,
  rgb,
  spotSign,
  toRect,
} from './drawing.ts';
import { Written } from './written.ts';

export interface ToAnnotate {
  readonly marks: readonly Mark[];
  readonly frames: readonly PageFrame[];
  /** Page index to the teacher's turn of it. */
  readonly turns: Readonly<Record<string, QuarterTurn>>;
  readonly author: string;
}

/**
 * Writes marks into the document as annotations of ISO 32000, each with an appearance stream of its own, so that every
 * reader shows the same. Geometric marks: BBox = Rect, identity matrix. Returns how many were written.
 */
export function writeMarks(pdf: PDFDocument, what: ToAnnotate): number {
  const pages = pdf.getPages();
  const writer = new Writer(pdf.context, what.author);
  let written = 0;
  for (const [index, page] of pages.entries()) {
    const frame = what.frames[index];
    const marks = what.marks.filter((m) => m.page === index);
    const turn = what.turns[String(index)] ?? 0;
    if (turn) page.setRotation(degrees(quarterTurn(page.getRotation().angle + turn)));
    if (!frame || marks.length === 0) continue;
    const refs = marks.map((mark) => writer.write(mark, frame, page));
    addAnnots(page, refs);
    written += refs.length;
  }
  return written;
}

/** Own array for the page: an inherited or shared one is copied, so that no other page gets these marks. */
function addAnnots(page: PDFPage, refs: PDFRef[]): void {
  const old = page.node.Annots();
  const all = page.node.context.obj([...(old?.asArray() ?? []), ...refs]) as PDFArray;
  page.node.set(PDFName.of('Annots'), all);
}

/** Streams shorter than this are not worth the time of making them smaller. */
const COMPRESS_FROM = 2048;

const HIGHLIGHT_OPACITY = 0.45;
const NOTE_OPACITY = 0.22;

class Writer {
  readonly #context: PDFContext;
  readonly #author: string;
  readonly #states = new Map<number, PDFRef>();
  readonly #signs = new Map<InkColour, PDFRef>();

  constructor(context: PDFContext, author: string) {
    this.#context = context;
    this.#author = words(author);
  }

  write(mark: Mark, frame: PageFrame, page: PDFPage): PDFRef {
    const rect = toRect(frame, coverOf(mark));
    const colour = rgb(mark.colour);
    const ink = `/C ${list(colour)}`;
    switch (mark.kind) {
      case 'ink': {
        const outline = `${colour.map(n).join(' ')} rg ${polygon(frame, inkOutline(mark.points, mark.width))}`;
        const box = grow(rect, 0.01);
        const kept = `${ink} /InkList [${list(inkList(frame, mark.points))}] /BS << /W ${n(mark.width / frame.userUnit)} /S /S >>`;
        return this.#add(mark, page, 'Ink', box, this.#appearance(box, outline, 1), kept);
      }
      case 'highlight': {
        if (mark.place.on === 'free') {
          const width = n(mark.place.width / frame.userUnit);
          const drawn = `/M gs ${colour.map(n).join(' ')} RG ${width} w 1 J 1 j ${polyline(frame, mark.place.points)} S`;
          const kept = `${ink} /CA ${HIGHLIGHT_OPACITY} /InkList [${list(inkList(frame, mark.place.points))}] /BS << /W ${width} /S /S >>`;
          return this.#add(mark, page, 'Ink', rect, this.#appearance(rect, drawn, HIGHLIGHT_OPACITY), kept);
        }
        return this.#overWords(
          mark,
          page,
          frame,
          mark.place.bands,
          mark.place.quote.exact,
          HIGHLIGHT_OPACITY,
        );
      }
      case 'note':
        if (mark.place.on === 'passage')
          return this.#overWords(mark, page, frame, mark.place.bands, mark.words, NOTE_OPACITY);
        return this.#add(
          mark,
          page,
          'Text',
          rect,
          this.#sign(mark.colour),
          `${ink} /Contents ${words(mark.words)} /Name /Comment /Open false`,
        );
      default:
        return never(mark);
    }
  }

  /** A Highlight over bands of words, paler for a note than for a highlight; `said` is its contents. */
  #overWords(
    mark: Mark,
    page: PDFPage,
    frame: PageFrame,
    bands: readonly Box[],
    said: string,
    opacity: number,
  ): PDFRef {
    const rect = toRect(frame, coverOf(mark));
    const colour = rgb(mark.colour);
    const appearance = this.#appearance(rect, `/M gs ${fill(colour, bandsPath(frame, bands))}`, opacity);
    const kept = `/C ${list(colour)} /CA ${opacity} /QuadPoints ${list(quads(frame, bands))} /Contents ${words(said)}`;
    return this.#add(mark, page, 'Highlight', rect, appearance, kept);
  }

  #add(mark: Mark, page: PDFPage, subtype: string, rect: Box, appearance: PDFRef, more: string): PDFRef {
    const when = pdfDate(mark.madeAt);
    const focus = mark.focus ? ` /Subj ${words(mark.focus)}` : '';
    // F 4: printed with the page. Not NoRotate: readers disagree where such an icon goes on a turned page, and ours is round.
    return this.#context.register(
      new Written(
        `<< /Type /Annot /Subtype /${subtype} /Rect ${list(rect)} /F 4 /NM (${mark.id}) /T ${this.#author} /M ${when} ` +
          `/CreationDate ${when} /P ${page.ref}${focus} /AP << /N ${appearance} >> ${more} >>`,
      ),
    );
  }

  #appearance(box: Box, drawing: string, opacity: number): PDFRef {
    const long = drawing.length >= COMPRESS_FROM;
    const stream = this.#context.stream(long ? deflateSync(drawing, { level: 1 }) : drawing, {
      Type: 'XObject',
      Subtype: 'Form',
      BBox: [...box],
      ...(long ? { Filter: 'FlateDecode' } : {}),
      Resources: opacity < 1 ? { ExtGState: { M: this.#state(opacity) } } : {},
    });
    return this.#context.register(stream);
  }

  /** The sign of a note at a spot, drawn once for all notes of a colour: a reader fits its box to each note's Rect. */
  #sign(colour: InkColour): PDFRef {
    const size = 2 * SPOT_RADIUS;
    const known =
      this.#signs.get(colour) ??
      this.#appearance([0, 0, size, size], spotSign(rgb(colour), [0, 0, size, size]), 1);
    this.#signs.set(colour, known);
    return known;
  }

  /** A graphics state that lays colour over print as ink does: multiplied, so that the words stay black. */
  #state(opacity: number): PDFRef {
    const known =
      this.#states.get(opacity) ??
      this.#context.register(
        this.#context.obj({ Type: 'ExtGState', BM: 'Multiply', ca: opacity, CA: opacity }),
      );
    this.#states.set(opacity, known);
    return known;
  }
}

/** A text string as PDF writes it, any letter in any language. */
const words = (text: string) => PDFHexString.fromText(text).toString();
