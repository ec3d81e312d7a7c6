import { deflateSync } from 'node:zlib';
import {
  degrees,
  type PDFArray,
  type PDFContext,
  PDFDict,
  type PDFDocument,
  PDFName,
  type PDFPage,
  PDFRef,
  PDFStream,
  PDFString,
} from '@cantoo/pdf-lib';
import {
  type AddMark,
  arrowLines,
  type Box,
  boxAround,
  CARET,
  type CutMark,
  coverOf,
  type ForeignMark,
  grow,
  type InkColour,
  inkOutline,
  isEcho,
  type MarginMark,
  type Mark,
  type NoteMark,
  never,
  type PageFrame,
  type QuarterTurn,
  quarterTurn,
  type Recording,
  recordingOf,
  SPOT_RADIUS,
  type SwapMark,
  toPdf,
  withEchoes,
} from '@jotmark/core';
import type { Appending } from './append.ts';
import type { BytesOf } from './bytes.ts';
import { carryIn, openCarried } from './carry.ts';
import {
  annotationBox,
  bandsPath,
  fill,
  inkList,
  list,
  n,
  path,
  pdfDate,
  polygon,
  polyline,
  quads,
  rgb,
  ringPath,
  spotSign,
  toRect,
  wedgeTip,
} from './drawing.ts';
import { ALSO_KEY, keepMark, MARK_KEY, PAGE_KEY } from './kept-mark.ts';
import { contentsOf } from './said.ts';
import { Upright } from './upright.ts';
import { aboutCopy, attachVoice, type VoicesOf, voiceSpot } from './voices.ts';
import { Written, WrittenStream, words } from './written.ts';

export interface ToAnnotate {
  /** The document's own id, so that the file finds back to its copy; null: the file says nothing. */
  readonly document: string | null;
  readonly marks: readonly Mark[];
  readonly frames: readonly PageFrame[];
  /** Page index to the teacher's turn of it. */
  readonly turns: Readonly<Record<string, QuarterTurn>>;
  readonly author: string;
  readonly bytes: BytesOf;
  /** Left out: nothing is attached. */
  readonly voices?: VoicesOf;
  /** What is said about the whole copy: it stands on the first page. Null: nothing, or another document has it. */
  readonly about?: Recording | null;
}

/**
 * Writes marks into the document as annotations of ISO 32000, each with an appearance stream of its own, so that every
 * reader shows the same. Geometric marks: BBox = Rect, identity matrix; what is written upright on a page shown turned has the
 * turn in its matrix. Returns how many marks were written.
 */
export async function writeMarks(into: Appending, what: ToAnnotate): Promise<number> {
  const { pdf } = into;
  const pages = pdf.getPages();
  const writer = new Writer(
    pdf.context,
    what.author,
    await Upright.for(pdf, what.marks, what.bytes),
    await allCarried(what.marks, what.bytes),
    what.bytes,
  );
  let written = 0;
  const everywhere = withEchoes(what.marks);
  for (const [index, page] of pages.entries()) {
    const frame = what.frames[index];
    const marks = everywhere.filter((m) => m.page === index);
    const turn = what.turns[String(index)] ?? 0;
    if (turn) {
      page.setRotation(degrees(quarterTurn(page.getRotation().angle + turn)));
      into.changed(page.ref);
    }
    if (what.document) {
      page.node.set(PDFName.of(PAGE_KEY), PDFString.of(`${what.document}:${index}`));
      into.changed(page.ref);
    }
    if (!frame) continue;
    const said = saidOn(pdf.context, page, frame, marks, index === 0 ? (what.about ?? null) : null, what);
    if (marks.length === 0 && said.length === 0) continue;
    into.changed(page.ref);
    addAnnots(page, [...marks.flatMap((mark) => writer.write(mark, frame, page)), ...said]);
    written += marks.filter((m) => !isEcho(m)).length;
  }
  return written;
}

/** What is said on a page, each as a file at its place: about the whole copy at its top, then that of notes. Only where a note stands first. */
function saidOn(
  context: PDFContext,
  page: PDFPage,
  frame: PageFrame,
  marks: readonly Mark[],
  about: Recording | null,
  { author, voices }: ToAnnotate,
): PDFRef[] {
  if (!voices) return [];
  const notes = marks.flatMap((mark) => {
    const recording = isEcho(mark) ? null : recordingOf(mark);
    if (!recording || mark.kind !== 'note') return [];
    const { colour, focus, id, madeAt } = mark;
    return [
      {
        recording,
        at: voiceSpot(mark),
        colour,
        focus,
        id,
        madeAt,
        name: `Voice note on page ${mark.page + 1}`,
        author,
      },
    ];
  });
  return [...(about ? [aboutCopy(about, author)] : []), ...notes].flatMap(
    (what) => attachVoice(context, page, frame, what, voices) ?? [],
  );
}

/** What came from other programs, opened; what cannot be opened is left out, the marking is worth more than it. */
export async function allCarried(
  marks: readonly Mark[],
  bytes: BytesOf,
): Promise<ReadonlyMap<Mark, PDFDocument>> {
  const out = new Map<Mark, PDFDocument>();
  for (const mark of marks) {
    if (mark.kind !== 'foreign') continue;
    const kept = bytes(mark.pdf);
    const opened = kept && (await openCarried(kept).catch(() => null));
    if (opened && opened.getPageCount() === 1) out.set(mark, opened);
  }
  return out;
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

/** An appearance and where it goes. */
export interface Drawn {
  readonly look: PDFRef;
  readonly rect: Box;
}

/** Draws marks as appearances, and writes the annotations that show them. */
export class Writer {
  readonly #context: PDFContext;
  readonly #author: string;
  readonly #upright: Upright;
  readonly #carried: ReadonlyMap<Mark, PDFDocument>;
  readonly #bytes: BytesOf;
  readonly #states = new Map<number, PDFRef>();
  readonly #signs = new Map<InkColour, PDFRef>();
  /** So many further places of pattern notes were written. */
  #echoes = 0;
  /** While marks are only drawn: their appearances. */
  #drawn: Drawn[] | null = null;

  constructor(
    context: PDFContext,
    author: string,
    upright: Upright,
    carried: ReadonlyMap<Mark, PDFDocument>,
    bytes: BytesOf,
  ) {
    this.#carried = carried;
    this.#bytes = bytes;
    this.#context = context;
    this.#author = words(author);
    this.#upright = upright;
  }

  /** Only what a mark looks like; nothing is written. */
  draw(mark: Mark, frame: PageFrame, page: PDFPage): Drawn[] {
    const drawn: Drawn[] = [];
    this.#drawn = drawn;
    this.write(mark, frame, page);
    this.#drawn = null;
    return drawn;
  }

  /** The annotations that are this mark: one, or of a swap two, and those that answer to it. */
  write(mark: Mark, frame: PageFrame, page: PDFPage): PDFRef[] {
    const rect = toRect(frame, coverOf(mark));
    const colour = rgb(mark.colour);
    const paint = colour.map(n).join(' ');
    const ink = `/C ${list(colour)}`;
    const one = (subtype: string, box: Box, appearance: PDFRef, more: string) => [
      this.#add(mark, page, subtype, box, appearance, `${ink} ${more}`),
    ];
    switch (mark.kind) {
      case 'ink': {
        const outline = `${paint} rg ${polygon(frame, inkOutline(mark.points, mark.width))}`;
        const box = grow(rect, 0.01);
        const kept = `/InkList [${list(inkList(frame, mark.points))}] ${border(frame, mark.width)}`;
        return one('Ink', box, this.#appearance(box, outline, 1), kept);
      }
      case 'foreign':
        return this.#foreign(mark, frame, page);
      case 'unread':
        // Nobody knows what it looks like; it stays in the marking.
        return [];
      case 'highlight': {
        if (mark.place.on === 'free') {
          const { points, width } = mark.place;
          const drawn = `/M gs ${paint} RG ${n(width / frame.userUnit)} w 1 J 1 j ${polyline(frame, points)} S`;
          const kept = `/CA ${HIGHLIGHT_OPACITY} /InkList [${list(inkList(frame, points))}] ${border(frame, width)}`;
          return one('Ink', rect, this.#appearance(rect, drawn, HIGHLIGHT_OPACITY), kept);
        }
        const { bands, quote } = mark.place;
        return [this.#overWords(mark, page, frame, bands, quote.exact, HIGHLIGHT_OPACITY)];
      }
      case 'note':
        return isEcho(mark)
          ? [this.#note(mark, frame, page)]
          : this.#withReplies(mark, page, rect, [this.#note(mark, frame, page)]);
      case 'line':
      case 'arrow': {
        const lines = arrowLines(mark).map((line) => path(frame, line));
        const drawn = `${paint} RG ${n(mark.width / frame.userUnit)} w 1 J 1 j ${lines.join('\n')} S`;
        const ends = [...toPdf(frame, mark.from), ...toPdf(frame, mark.to)];
        const head = mark.kind === 'arrow' ? '/LE [/None /OpenArrow]' : '/LE [/None /None]';
        return one(
          'Line',
          rect,
          this.#appearance(rect, drawn, 1),
          `/L ${list(ends)} ${head} ${border(frame, mark.width)}`,
        );
      }
      case 'box':
      case 'ring': {
        const inner = toRect(frame, mark.box);
        const shape = mark.kind === 'box' ? bandsPath(frame, [mark.box]) : ringPath(inner);
        const drawn = `${paint} RG ${n(mark.width / frame.userUnit)} w 1 j ${shape} S`;
        return one(
          mark.kind === 'box' ? 'Square' : 'Circle',
          rect,
          this.#appearance(rect, drawn, 1),
          border(frame, mark.width),
        );
      }
      case 'text': {
        const { look, rect: box, size } = this.#upright.text(mark, frame, colour);
        const said = `/Contents ${words(mark.words)} /DA (${paint} rg /Helv ${n(size)} Tf) /Border [0 0 0]`;
        return [this.#add(mark, page, 'FreeText', box, look, said)];
      }
      case 'stamp': {
        const { look, name } = this.#upright.stamp(mark, frame, colour);
        return one('Stamp', rect, look, `/Contents ${words(name)} /Name /Stamp`);
      }
      case 'cut':
        return this.#withReplies(mark, page, rect, [
          this.#struck(mark, frame, page, mark.id, `/Contents ${words(contentsOf(mark))}`),
        ]);
      case 'add':
        return this.#withReplies(mark, page, rect, [this.#caret(mark, frame, page)]);
      case 'swap': {
        const caret = this.#caret(mark, frame, page);
        // What is struck is a part of the caret that says what comes instead (ISO 32000-1, 12.5.6.2).
        const struck = this.#struck(mark, frame, page, `${mark.id}-struck`, `/IRT ${caret} /RT /Group`);
        return this.#withReplies(mark, page, rect, [struck, caret]);
      }
      default:
        return never(mark);
    }
  }

  /** What another program made, put back as it came. */
  #foreign(mark: ForeignMark, frame: PageFrame, page: PDFPage): PDFRef[] {
    const carried = this.#carried.get(mark);
    if (!carried) return [];
    const refs = carryIn(carried, this.#context, page.ref);
    if (!this.#drawn) return refs;
    const look = lookOf(this.#context, refs[0]);
    if (look) this.#drawn.push({ look, rect: toRect(frame, mark.box) });
    return [];
  }

  /** What was answered to a mark, as answers to its annotation, the last of `refs` (ISO 32000-1, 12.5.6.2). */
  #withReplies(mark: MarginMark, page: PDFPage, rect: Box, refs: PDFRef[]): PDFRef[] {
    if (this.#drawn || !mark.replies) return refs;
    const to = refs.at(-1)!;
    const answers = mark.replies.map((reply, i) => {
      const when = pdfDate(reply.at);
      return this.#context.register(
        new Written(
          `<< /Type /Annot /Subtype /Text /Rect ${list(rect)} /F 4 /NM (${mark.id}-${i}) /T ${words(reply.by)} /M ${when} ` +
            `/CreationDate ${when} /P ${page.ref} /IRT ${to} /RT /R /Contents ${words(reply.said)} >>`,
        ),
      );
    });
    return [...refs, ...answers];
  }

  #note(mark: NoteMark, frame: PageFrame, page: PDFPage): PDFRef {
    const { place } = mark;
    const rect = toRect(frame, coverOf(mark));
    const said = `/C ${list(rgb(mark.colour))} /Contents ${words(contentsOf(mark))}`;
    if (place.on === 'passage')
      return this.#overWords(mark, page, frame, place.bands, contentsOf(mark), NOTE_OPACITY);
    if (place.on === 'spot') {
      // Some readers hold a Text by the corner of its icon when a page is turned, and set it beside its spot. A circle stays.
      const [kind, more] = quarterTurn(page.getRotation().angle)
        ? ['Circle', '']
        : ['Text', ' /Name /Comment /Open false'];
      return this.#add(mark, page, kind, rect, this.#sign(mark.colour), `${said}${more}`);
    }
    if (place.on === 'moment') throw new Error('A mark on film has no page');
    const drawn = `${rgb(mark.colour).map(n).join(' ')} RG 1 w [4 2.5] 0 d ${bandsPath(frame, [place.box])} S`;
    const dashed = '/BS << /W 1 /S /D /D [4 2.5] >>';
    return this.#add(mark, page, 'Square', rect, this.#appearance(rect, drawn, 1), `${said} ${dashed}`);
  }

  /** Words struck through; `name` is the annotation's own. */
  #struck(mark: CutMark | SwapMark, frame: PageFrame, page: PDFPage, name: string, more: string): PDFRef {
    const { bands } = mark.place;
    const rect = toRect(frame, grow(boxAround(bands)!, 1));
    const lines = bands.map(([x0, y0, x1, y1]) => {
      const y = (y0 + y1) / 2 + (y1 - y0) * 0.06;
      return path(frame, [
        [x0 - 1, y],
        [x1 + 1, y],
      ]);
    });
    const colour = rgb(mark.colour);
    const drawn = `${colour.map(n).join(' ')} RG ${n(1.4 / frame.userUnit)} w ${lines.join('\n')} S`;
    const kept = `/C ${list(colour)} /QuadPoints ${list(quads(frame, bands))} ${more}`;
    return this.#add(mark, page, 'StrikeOut', rect, this.#appearance(rect, drawn, 1), kept, name);
  }

  /** The wedge under a gap, with the words that belong there. */
  #caret(mark: AddMark | SwapMark, frame: PageFrame, page: PDFPage): PDFRef {
    const [x, bottom] = wedgeTip(mark);
    const rect = toRect(frame, annotationBox(mark));
    const wedge = path(frame, [
      [x - CARET, bottom + CARET],
      [x, bottom - CARET * 0.8],
      [x + CARET, bottom + CARET],
    ]);
    const colour = rgb(mark.colour);
    const drawn = `${colour.map(n).join(' ')} RG ${n(1.6 / frame.userUnit)} w 1 J 1 j ${wedge} S`;
    const kept = `/C ${list(colour)} /Sy /None /Contents ${words(contentsOf(mark))}`;
    return this.#add(mark, page, 'Caret', rect, this.#appearance(rect, drawn, 1), kept);
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

  #add(
    mark: Mark,
    page: PDFPage,
    subtype: string,
    rect: Box,
    appearance: PDFRef,
    more: string,
    name: string = mark.id,
  ): PDFRef {
    if (this.#drawn) {
      this.#drawn.push({ look: appearance, rect });
      return appearance;
    }
    const when = pdfDate(mark.madeAt);
    const focus = mark.focus ? ` /Subj ${words(mark.focus)}` : '';
    // A part of another annotation keeps nothing: the whole mark stands there.
    if (isEcho(mark)) {
      name = `${mark.id}-also-${++this.#echoes}`;
      more = `${more} /${ALSO_KEY} true`;
    }
    const kept = name === mark.id ? ` /${MARK_KEY} ${literal(keepMark(mark, this.#bytes))}` : '';
    // F 4: printed with the page.
    return this.#context.register(
      new Written(
        `<< /Type /Annot /Subtype /${subtype} /Rect ${list(rect)} /F 4 /NM (${name}) /T ${this.#author} /M ${when} ` +
          `/CreationDate ${when} /P ${page.ref}${focus}${kept} /AP << /N ${appearance} >> ${more} >>`,
      ),
    );
  }

  #appearance(box: Box, drawing: string, opacity: number): PDFRef {
    const long = drawing.length >= COMPRESS_FROM;
    const bytes = long ? deflateSync(drawing, { level: 1 }) : Buffer.from(drawing, 'latin1');
    const entries =
      `/Type /XObject /Subtype /Form /BBox ${list(box)}${long ? ' /Filter /FlateDecode' : ''} ` +
      `/Resources << ${opacity < 1 ? `/ExtGState << /M ${this.#state(opacity)} >> ` : ''}>>`;
    const stream = new WrittenStream(this.#context, entries, bytes, box);
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

/** The normal appearance of an annotation; of several the one of its state. Null where it has none. */
function lookOf(context: PDFContext, ref: PDFRef | undefined): PDFRef | null {
  const dict = ref && context.lookup(ref);
  const looks = dict instanceof PDFDict ? dict.lookup(PDFName.of('AP')) : null;
  if (!(dict instanceof PDFDict) || !(looks instanceof PDFDict)) return null;
  const normal = looks.get(PDFName.of('N'));
  const found = context.lookup(normal);
  if (found instanceof PDFStream) return normal instanceof PDFRef ? normal : context.register(found);
  const state = dict.get(PDFName.of('AS'));
  const of = found instanceof PDFDict && state instanceof PDFName ? found.get(state) : null;
  return of instanceof PDFRef && context.lookup(of) instanceof PDFStream ? of : null;
}

const border = (frame: PageFrame, width: number) => `/BS << /W ${n(width / frame.userUnit)} /S /S >>`;

/** A literal string of ASCII (ISO 32000-1, 7.3.4.2). */
const literal = (ascii: string) => `(${ascii.replace(/[\\()]/g, '\\$&')})`;
