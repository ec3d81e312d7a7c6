import {
  degrees,
  type PDFArray,
  type PDFContext,
  type PDFDict,
  type PDFDocument,
  PDFHexString,
  PDFName,
  type PDFObject,
  type PDFPage,
  type PDFRef,
  PDFString,
} from '@cantoo/pdf-lib';
import {
  type Box,
  boxAround,
  grow,
  INK_HEX,
  type InkColour,
  inkOutline,
  type Mark,
  markBox,
  never,
  type PageFrame,
  type Point,
  pointAt,
  pointCount,
  type QuarterTurn,
  quarterTurn,
  SPOT_RADIUS,
  type StrokePoints,
  toPdf,
} from '@jotmark/core';

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
export function annotate(pdf: PDFDocument, what: ToAnnotate): number {
  const pages = pdf.getPages();
  const multiply = new Map<string, PDFRef>();
  const writer = new Writer(pdf.context, what.author, multiply);
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

class Writer {
  readonly #context: PDFContext;
  readonly #author: PDFHexString;
  readonly #states: Map<string, PDFRef>;

  constructor(context: PDFContext, author: string, states: Map<string, PDFRef>) {
    this.#context = context;
    this.#author = PDFHexString.fromText(author);
    this.#states = states;
  }

  write(mark: Mark, frame: PageFrame, page: PDFPage): PDFRef {
    const rect = toRect(frame, markBox(mark));
    const colour = rgb(mark.colour);
    switch (mark.kind) {
      case 'ink':
        return this.#add(
          mark,
          page,
          'Ink',
          grow(rect, 0.01),
          fill(colour, polygon(frame, inkOutline(mark.points, mark.width))),
          {
            C: colour,
            InkList: [inkList(frame, mark.points)],
            BS: { W: mark.width / frame.userUnit, S: 'S' },
          },
        );
      case 'highlight':
        if (mark.place.on === 'free') {
          const width = mark.place.width / frame.userUnit;
          const drawn = `/M gs ${colour.map(n).join(' ')} RG ${n(width)} w 1 J 1 j ${polyline(frame, mark.place.points)} S`;
          return this.#add(
            mark,
            page,
            'Ink',
            rect,
            drawn,
            {
              C: colour,
              CA: 0.45,
              InkList: [inkList(frame, mark.place.points)],
              BS: { W: width, S: 'S' },
            },
            0.45,
          );
        }
        return this.#add(
          mark,
          page,
          'Highlight',
          rect,
          `/M gs ${fill(colour, bandsPath(frame, mark.place.bands))}`,
          {
            C: colour,
            CA: 0.45,
            QuadPoints: quads(frame, mark.place.bands),
            Contents: PDFHexString.fromText(mark.place.quote.exact),
          },
          0.45,
        );
      case 'note': {
        const words = { Contents: PDFHexString.fromText(mark.words), C: colour };
        if (mark.place.on === 'passage')
          return this.#add(
            mark,
            page,
            'Highlight',
            rect,
            `/M gs ${fill(colour, bandsPath(frame, mark.place.bands))}`,
            {
              ...words,
              CA: 0.22,
              QuadPoints: quads(frame, mark.place.bands),
            },
            0.22,
          );
        return this.#add(mark, page, 'Text', rect, spotSign(colour, rect), {
          ...words,
          Name: 'Comment',
          Open: false,
        });
      }
      default:
        return never(mark);
    }
  }

  #add(
    mark: Mark,
    page: PDFPage,
    subtype: string,
    rect: Box,
    drawing: string,
    more: Record<string, unknown>,
    opacity = 1,
  ): PDFRef {
    const resources = opacity < 1 ? { ExtGState: { M: this.#state(opacity) } } : {};
    const appearance = this.#context.flateStream(drawing, {
      Type: 'XObject',
      Subtype: 'Form',
      FormType: 1,
      BBox: [...rect],
      Resources: resources,
    });
    const when = pdfDate(mark.madeAt);
    const dict = this.#context.obj({
      Type: 'Annot',
      Subtype: subtype,
      Rect: [...rect],
      // Printed with the page. Not NoRotate: readers disagree where such an icon goes on a turned page, and ours is round.
      F: 4,
      NM: PDFString.of(mark.id),
      T: this.#author,
      M: when,
      CreationDate: when,
      P: page.ref,
      ...(mark.focus ? { Subj: PDFHexString.fromText(mark.focus) } : {}),
      AP: { N: this.#context.register(appearance) },
      ...(more as Record<string, PDFObject>),
    }) as PDFDict;
    return this.#context.register(dict);
  }

  /** A graphics state that lays colour over print as ink does: multiplied, so that the words stay black. */
  #state(opacity: number): PDFRef {
    const name = String(opacity);
    const ref =
      this.#states.get(name) ??
      this.#context.register(
        this.#context.obj({ Type: 'ExtGState', BM: 'Multiply', ca: opacity, CA: opacity }),
      );
    this.#states.set(name, ref);
    return ref;
  }
}

const n = (value: number) => String(Math.round(value * 1000) / 1000);

function rgb(colour: InkColour): number[] {
  const hex = INK_HEX[colour];
  return [1, 3, 5].map((i) => Math.round((Number.parseInt(hex.slice(i, i + 2), 16) / 255) * 1000) / 1000);
}

/** PDF rectangle [x0 y0 x1 y1], y up. */
function toRect(frame: PageFrame, box: Box): Box {
  return boxAround([[...toPdf(frame, [box[0], box[3]]), ...toPdf(frame, [box[2], box[1]])]])!;
}

function polygon(frame: PageFrame, outline: readonly Point[]): string {
  return `${outline.map((p, i) => `${toPdf(frame, p).map(n).join(' ')} ${i ? 'l' : 'm'}`).join('\n')} h`;
}

function polyline(frame: PageFrame, points: StrokePoints): string {
  const out: string[] = [];
  for (let i = 0; i < pointCount(points); i++)
    out.push(`${toPdf(frame, pointAt(points, i)).map(n).join(' ')} ${i ? 'l' : 'm'}`);
  // A line of one point is drawn only if it has an end.
  if (out.length === 1) out.push(out[0]!.replace(' m', ' l'));
  return out.join('\n');
}

function inkList(frame: PageFrame, points: StrokePoints): number[] {
  const out: number[] = [];
  for (let i = 0; i < pointCount(points); i++)
    out.push(...toPdf(frame, pointAt(points, i)).map((v) => Math.round(v * 100) / 100));
  return out;
}

function bandsPath(frame: PageFrame, bands: readonly Box[]): string {
  return bands
    .map((b) => toRect(frame, b))
    .map(([x0, y0, x1, y1]) => `${n(x0)} ${n(y0)} ${n(x1 - x0)} ${n(y1 - y0)} re`)
    .join('\n');
}

/** Four corners a band in the order that readers agree on: top left, top right, bottom left, bottom right. */
function quads(frame: PageFrame, bands: readonly Box[]): number[] {
  return bands.map((b) => toRect(frame, b)).flatMap(([x0, y0, x1, y1]) => [x0, y1, x1, y1, x0, y0, x1, y0]);
}

const fill = (colour: readonly number[], path: string) => `${colour.map(n).join(' ')} rg\n${path}\nf`;

/** A filled disc with a light rim, round its spot, the same whichever way the page is turned. */
function spotSign(colour: readonly number[], [x0, y0, x1, y1]: Box): string {
  const cx = (x0 + x1) / 2;
  const cy = (y0 + y1) / 2;
  const r = ((x1 - x0) / 2) * ((SPOT_RADIUS - 0.7) / SPOT_RADIUS);
  // Circle by four Bézier arcs; 0.5523 is 4/3·(√2 − 1).
  const k = r * 0.5523;
  const arc = (...v: number[]) => `${v.map(n).join(' ')} c`;
  const circle = [
    `${n(cx + r)} ${n(cy)} m`,
    arc(cx + r, cy + k, cx + k, cy + r, cx, cy + r),
    arc(cx - k, cy + r, cx - r, cy + k, cx - r, cy),
    arc(cx - r, cy - k, cx - k, cy - r, cx, cy - r),
    arc(cx + k, cy - r, cx + r, cy - k, cx + r, cy),
    'h',
  ].join('\n');
  return `1 1 1 RG 0.8 w ${colour.map(n).join(' ')} rg\n${circle}\nB`;
}

function pdfDate(ms: number): PDFString {
  return PDFString.fromDate(new Date(ms));
}
