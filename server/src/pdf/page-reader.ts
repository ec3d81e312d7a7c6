import { createHash } from 'node:crypto';
import { PDFArray, PDFDict, type PDFDocument, PDFName, PDFRef } from '@cantoo/pdf-lib';
import {
  type Box,
  boxAround,
  coverOf,
  type DocumentId,
  fromPdf,
  HAND_LEADING,
  INK_HEX,
  InkColour,
  isMarginMark,
  isStudentColour,
  isWorded,
  type KeepBytes,
  Mark,
  MarkId,
  makeId,
  type PageFrame,
  type PageText,
  type Point,
  quoteOf,
  type Reply,
  type StampMark,
  type WordRange,
} from '@jotmark/core';
import { carryOut, drawCarried } from './carry.ts';
import { asNumbers, dateOf, fillOf, fontSize, nameOf, number, numbers, rectOf, textOf } from './dict.ts';
import { annotationBox, toRect } from './drawing.ts';
import { ALSO_KEY, MARK_KEY, readKeptMark } from './kept-mark.ts';
import type { PageSign } from './page-sign.ts';
import { contentsOf } from './said.ts';

/** Stands for the document until it is known. */
const NOWHERE = '00000000-0000-7000-8000-000000000000' as DocumentId;
/** Belongs to the page or to another annotation. */
const NO_MARKS: ReadonlySet<string> = new Set(['Popup', 'Link', 'Widget']);
/** So many annotations of a page are looked at; the others are counted. */
const MOST_OF_A_PAGE = 20_000;
/** So many answers has a mark at most. */
const MOST_ANSWERS = 50;
/** Kinds that play, call or hide something: they are named and stay in their file. */
const NOT_CARRIED: ReadonlySet<string> = new Set([
  'Movie',
  'Screen',
  'RichMedia',
  '3D',
  'Sound',
  'Redact',
  'TrapNet',
  'PrinterMark',
]);

export interface Annotation {
  readonly ref: PDFRef | null;
  readonly dict: PDFDict;
}

/** What a mark is besides what all marks have. */
interface Kind {
  readonly kind: Mark['kind'];
  readonly [entry: string]: unknown;
}

/** Reads the annotations of one page. */
export class PageReader {
  readonly #frame: PageFrame;
  readonly #text: PageText;
  readonly #page: number;
  /** Which page this is for who knows no document: as its copy counts it, where it says so. */
  readonly #counted: number;
  readonly #keep: KeepBytes;
  readonly #all: Annotation[] = [];
  /** What answers to an annotation, is grouped with it or is its window. */
  readonly #answering = new Map<PDFRef, Annotation[]>();
  /** What was not looked at. */
  #unread: number;

  constructor(
    frame: PageFrame,
    text: PageText,
    page: number,
    sign: PageSign | null,
    annots: PDFArray,
    keep: KeepBytes,
  ) {
    this.#keep = keep;
    this.#frame = frame;
    this.#text = text;
    this.#page = page;
    this.#counted = sign?.page ?? page;
    const looked = Math.min(annots.size(), MOST_OF_A_PAGE);
    this.#unread = annots.size() - looked;
    for (let i = 0; i < looked; i++) {
      const ref = annots.get(i);
      const dict = annots.lookup(i);
      if (!(dict instanceof PDFDict)) continue;
      const annotation = { ref: ref instanceof PDFRef ? ref : null, dict };
      this.#all.push(annotation);
      const to = dict.get(PDFName.of(nameOf(dict, 'Subtype') === 'Popup' ? 'Parent' : 'IRT'));
      if (!(to instanceof PDFRef)) continue;
      const there = this.#answering.get(to);
      if (there) there.push(annotation);
      else this.#answering.set(to, [annotation]);
    }
  }

  /** `most` marks at most. Whatever does not become one is among the others; `unread` counts what was not even looked at. */
  read(most: number): { marks: Mark[]; others: Annotation[]; unread: number } {
    const marks: Mark[] = [];
    const others: Annotation[] = [];
    for (const annotation of this.#alone()) {
      const { ref, dict } = annotation;
      const subtype = nameOf(dict, 'Subtype');
      if (NO_MARKS.has(subtype) || dict.has(PDFName.of(ALSO_KEY))) continue;
      let read: Mark[] = [];
      try {
        const mark = marks.length < most && (this.#own(dict, ref) ?? this.#standard(dict, subtype, ref));
        if (mark) read = [mark, ...this.#besides(mark, annotation)];
      } catch {
        // A broken annotation must not take the others with it.
      }
      marks.push(...read);
      if (read.length === 0) others.push(annotation);
    }
    return { marks, others, unread: this.#unread };
  }

  /**
   * Annotations that stand for themselves. What answers to another, or is grouped with it, is read with that one; what answers to one that is not on this
   * page, or only to itself, stands alone.
   */
  #alone(): Annotation[] {
    const here = new Set(this.#all.flatMap((a) => a.ref ?? []));
    const answers = ({ dict }: Annotation) => {
      const to = dict.get(PDFName.of('IRT'));
      return to instanceof PDFRef && here.has(to);
    };
    const alone = new Set(this.#all.filter((a) => !answers(a)));
    const reached = new Set([...alone].flatMap((a) => this.#belonging(a.ref)));
    return this.#all.filter((a) => alone.has(a) || !reached.has(a));
  }

  /** What there is no mark for, whole, with all that answers to it. Null where it cannot be carried. */
  async carry(pdf: PDFDocument, { ref, dict }: Annotation): Promise<Mark | null> {
    const what = nameOf(dict, 'Subtype').slice(0, 40);
    const rect = rectOf(dict);
    const box = this.#box(rect);
    if (!what || NOT_CARRIED.has(what) || tooSmall(box)) return null;
    try {
      const others = this.#belonging(ref).map((a) => a.ref ?? a.dict);
      const bytes = await carryOut(pdf, [ref ?? dict, ...others], rect);
      // A look that cannot be drawn, or is too large a picture, is no reason to lose the rest.
      const alone = await carryOut(pdf, [ref ?? dict], rect);
      const look = await drawCarried(alone).catch(() => null);
      // A kind that is a mark here, cannot be read as one and shows nothing is broken.
      if (!look && READ.has(what)) return null;
      const read = Mark.safeParse({
        ...this.#base(dict, what),
        focus: null,
        kind: 'foreign',
        box,
        what,
        said: textOf(dict, 'Contents').slice(0, 4000),
        pdf: this.#keep(bytes),
        picture: look && look.length < 60_000 ? this.#keep(look) : null,
      });
      return read.success ? read.data : null;
    } catch {
      return null;
    }
  }

  /** A mark that was written by this program and not changed since by another; a stamp may have been moved. */
  #own(dict: PDFDict, ref: PDFRef | null): Mark | null {
    const mark = this.#kept(dict);
    if (!mark) return null;
    const box = rectOf(dict);
    // Page text is written as large as its letters need, so only its corner tells.
    const meant = toRect(this.#frame, annotationBox(mark));
    const moved = mark.kind === 'text' ? !touches(box, meant) : !near(box, meant);
    if (mark.kind === 'stamp' && moved) return this.#movedStamp(mark, meant, box);
    const said =
      isWorded(mark) && textOf(dict, 'Contents') !== (mark.kind === 'text' ? mark.words : contentsOf(mark));
    if (moved || said || inkOf(dict) !== mark.colour) return null;
    return isMarginMark(mark) ? { ...mark, ...this.#answers(ref) } : mark;
  }

  /** The mark that this program wrote into an annotation, whatever became of it since. */
  #kept(dict: PDFDict): Mark | null {
    const text = textOf(dict, MARK_KEY);
    return text
      ? readKeptMark(text, { document: NOWHERE, page: this.#page }, this.#ink(dict), this.#keep)
      : null;
  }

  /** The stamp where it lies now, and as large as it was pulled. */
  #movedStamp(mark: StampMark, was: Box, now: Box): Mark {
    const from = this.#box(was);
    const to = this.#box(now);
    const by = Math.min((to[2] - to[0]) / (from[2] - from[0]), (to[3] - to[1]) / (from[3] - from[1]));
    const at = (v: number, i: 0 | 1) => cent(to[i] + (v - from[i]) * by);
    const size = Math.min(200, Math.max(4, cent(mark.size * by)));
    return { ...mark, x: at(mark.x, 0), y: at(mark.y, 1), size };
  }

  /** What was said to a mark that has no words of its own here: a note beside it, so that nothing is lost. */
  #besides(mark: Mark, { ref, dict }: Annotation): Mark[] {
    if (isMarginMark(mark) && mark.kind !== 'cut') return [];
    const own = dict.has(PDFName.of(MARK_KEY));
    const contents = textOf(dict, 'Contents');
    const quoted = 'place' in mark && 'quote' in mark.place ? mark.place.quote.exact : '';
    const words = mark.kind === 'text' || own || contents === quoted ? '' : contents;
    const answers = mark.kind === 'cut' ? [] : (this.#answers(ref).replies ?? []);
    const said = [words, ...answers.map((a) => (a.by ? `${a.by}: ${a.said}` : a.said))]
      .filter(Boolean)
      .join('\n');
    if (!said) return [];
    const [, top, right] = coverOf(mark);
    const note = Mark.safeParse({
      ...mark,
      id: this.#idOf(['said', mark.id, said]),
      kind: 'note',
      place: { on: 'spot', x: right, y: top },
      words: said.slice(0, 4000),
    });
    return note.success ? [note.data] : [];
  }

  #base(dict: PDFDict, subtype: string) {
    return {
      v: 2,
      id: this.#id(dict, subtype),
      document: NOWHERE,
      page: this.#page,
      colour: inkOf(dict),
      madeAt: dateOf(textOf(dict, 'CreationDate') || textOf(dict, 'M')),
    };
  }

  #standard(dict: PDFDict, subtype: string, ref: PDFRef | null): Mark | null {
    const kind = this.#kind(dict, subtype, ref);
    if (!kind) return null;
    const read = Mark.safeParse({
      ...this.#base(dict, subtype),
      // Other programs write the name of their tool there.
      focus: dict.has(PDFName.of(MARK_KEY)) ? textOf(dict, 'Subj').slice(0, 40) || null : null,
      ...kind,
      ...(MARGIN_KINDS.has(kind.kind) ? this.#answers(ref) : {}),
    });
    return read.success ? read.data : null;
  }

  #kind(dict: PDFDict, subtype: string, ref: PDFRef | null): Kind | null {
    const words = textOf(dict, 'Contents').slice(0, 4000);
    const width = this.#width(dict);
    const box = this.#box(rectOf(dict));
    switch (subtype) {
      case 'Ink': {
        const points = this.#ink(dict).flatMap(([x, y]) => [Math.round(x * 100), Math.round(y * 100), 128]);
        const seeThrough = number(dict, 'CA', 1) < 0.9;
        return seeThrough
          ? { kind: 'highlight', place: { on: 'free', points, width: Math.max(1, width) } }
          : { kind: 'ink', points, width };
      }
      case 'Highlight': {
        const place = this.#passage(dict);
        if (words && words !== place?.quote.exact)
          return { kind: 'note', words, place: place ?? { on: 'box', box } };
        return place
          ? { kind: 'highlight', place }
          : { kind: 'highlight', place: { on: 'free', points: levelStroke(box), width: box[3] - box[1] } };
      }
      case 'StrikeOut': {
        const place = this.#passage(dict);
        return place && { kind: 'cut', place };
      }
      case 'Caret': {
        const struck =
          ref && this.#answering.get(ref)?.find((a) => nameOf(a.dict, 'Subtype') === 'StrikeOut');
        const place = struck && this.#passage(struck.dict);
        if (place) return { kind: 'swap', place, words: words.slice(0, 1000) };
        return this.#add(box, words.slice(0, 1000));
      }
      case 'Line': {
        const l = numbers(dict, 'L');
        if (l.length < 4) return null;
        const heads = dict.lookupMaybe(PDFName.of('LE'), PDFArray);
        const has = (i: number) =>
          heads && !['None', 'undefined'].includes(String(heads.get(i)).replace('/', ''));
        const from = this.#at([l[0]!, l[1]!]);
        const to = this.#at([l[2]!, l[3]!]);
        if (has(1)) return { kind: 'arrow', from, to, width };
        return has(0) ? { kind: 'arrow', from: to, to: from, width } : { kind: 'line', from, to, width };
      }
      case 'Square':
        if (tooSmall(box)) return null;
        return words
          ? { kind: 'note', words, place: { on: 'box', box } }
          : { kind: 'box', box: shrink(box, width / 2), width };
      case 'Circle':
        if (tooSmall(box)) return null;
        // On a turned page our notes at a spot are written so; this one says something else now.
        if (this.#kept(dict)?.kind === 'note')
          return {
            kind: 'note',
            words,
            place: { on: 'spot', x: cent((box[0] + box[2]) / 2), y: cent((box[1] + box[3]) / 2) },
          };
        return { kind: 'ring', box: shrink(box, width / 2), width };
      case 'FreeText': {
        if (!words) return null;
        const size = fontSize(textOf(dict, 'DA')) * this.#frame.userUnit;
        const turned = this.#frame.rotate === 90 || this.#frame.rotate === 270;
        const [w, h] = [box[2] - box[0], box[3] - box[1]];
        const origin: Record<number, Point> = {
          0: [box[0], box[1]],
          90: [box[0], box[3]],
          180: [box[2], box[3]],
          270: [box[2], box[1]],
        };
        const [x, y] = origin[this.#frame.rotate]!;
        return {
          kind: 'text',
          x,
          y,
          w: Math.max(8, turned ? h : w),
          h: Math.max(size * HAND_LEADING, turned ? w : h),
          size,
          turn: this.#frame.rotate,
          words: words.slice(0, 2000),
        };
      }
      case 'Text': {
        const [x, y] = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
        return { kind: 'note', words, place: { on: 'spot', x, y } };
      }
      default:
        return null;
    }
  }

  /** What was answered to an annotation, by whoever, and to the answers, in the order of time. */
  #answers(ref: PDFRef | null): { replies?: Reply[] } {
    const said = this.#belonging(ref)
      .filter((a) => nameOf(a.dict, 'Subtype') !== 'Popup' && nameOf(a.dict, 'RT') !== 'Group')
      .map(({ dict }) => ({
        by: textOf(dict, 'T').slice(0, 120),
        said: textOf(dict, 'Contents').slice(0, 4000),
        at: dateOf(textOf(dict, 'CreationDate') || textOf(dict, 'M')),
      }))
      .filter((reply) => reply.said !== '')
      .sort((a, b) => a.at - b.at);
    this.#unread += Math.max(0, said.length - MOST_ANSWERS);
    return said.length ? { replies: said.slice(0, MOST_ANSWERS) } : {};
  }

  /** Annotations that answer to this one or to one of those, are grouped with it, or are the window of one. */
  #belonging(ref: PDFRef | null): Annotation[] {
    const out = new Set<Annotation>();
    for (let look = ref ? [ref] : []; look.length; ) {
      const next = look
        .flatMap((to) => this.#answering.get(to) ?? [])
        .filter((a) => !out.has(a) && a.ref !== ref);
      for (const answer of next) out.add(answer);
      look = next.flatMap((a) => (a.ref ? [a.ref] : []));
    }
    return [...out];
  }

  /** Its own name where it has one of ours, else one made of what it is: brought in twice it is the same. */
  #id(dict: PDFDict, subtype: string): string {
    const named = MarkId.safeParse(textOf(dict, 'NM'));
    if (named.success) return named.data;
    return this.#idOf([subtype, textOf(dict, 'NM'), numbers(dict, 'Rect').join(), textOf(dict, 'Contents')]);
  }

  #idOf(what: readonly string[]): string {
    return makeId(
      0,
      createHash('sha256')
        .update([this.#counted, ...what].join('|'))
        .digest(),
    );
  }

  /** The words under the quads; null where there are none. */
  #passage(dict: PDFDict): { on: 'passage'; bands: Box[]; quote: ReturnType<typeof quoteOf> } | null {
    const quads = numbers(dict, 'QuadPoints');
    const bands: Box[] = [];
    for (let i = 0; i + 8 <= quads.length && bands.length < 500; i += 8) {
      const corners = [0, 2, 4, 6].map((k) => this.#at([quads[i + k]!, quads[i + k + 1]!]));
      bands.push(boxAround(corners.map(([x, y]): Box => [x, y, x, y]))!);
    }
    const range = wordsUnder(this.#text, bands);
    return range && { on: 'passage', bands, quote: quoteOf(this.#text, range) };
  }

  /** An addition before or after the word that is nearest to its wedge. */
  #add(box: Box, words: string): Kind | null {
    const x = (box[0] + box[2]) / 2;
    // The wedge stands below its gap and points up to it.
    const y = box[1];
    let best = -1;
    let distance = 30;
    this.#text.words.forEach(({ box: [, t, r, b] }, i) => {
      const d = Math.hypot(r - x, Math.max(0, t - y, y - b));
      if (d < distance) {
        distance = d;
        best = i;
      }
    });
    if (best < 0) return words ? { kind: 'note', words, place: { on: 'spot', x, y } } : null;
    const [, top, , bottom] = this.#text.words[best]!.box;
    const quote = quoteOf(this.#text, { from: best, to: best });
    return { kind: 'add', words, place: { on: 'caret', side: 'after', x, top, bottom, quote } };
  }

  #at(point: Point): [number, number] {
    const [x, y] = fromPdf(this.#frame, point);
    return [cent(x), cent(y)];
  }

  #box([l, b, r, t]: Box): Box {
    const corners = [this.#at([l, t]), this.#at([r, b])];
    return boxAround(corners.map(([x, y]): Box => [x, y, x, y]))!;
  }

  /** All strokes of an InkList one behind the other. */
  #ink(dict: PDFDict): [number, number][] {
    const lists = dict.lookupMaybe(PDFName.of('InkList'), PDFArray);
    const out: [number, number][] = [];
    for (let i = 0; lists && i < lists.size(); i++) {
      const list = lists.lookup(i);
      if (!(list instanceof PDFArray)) continue;
      const all = asNumbers(list);
      for (let k = 0; k + 1 < all.length; k += 2) {
        const [x, y] = fromPdf(this.#frame, [all[k]!, all[k + 1]!]);
        out.push([x, y]);
      }
    }
    return out;
  }

  #width(dict: PDFDict): number {
    const style = dict.lookupMaybe(PDFName.of('BS'), PDFDict);
    const width = style ? number(style, 'W', 1) : (numbers(dict, 'Border')[2] ?? 1);
    return Math.min(40, Math.max(0.4, width * this.#frame.userUnit));
  }
}

/** Kinds of annotations that become marks. */
const READ: ReadonlySet<string> = new Set([
  'Ink',
  'Highlight',
  'StrikeOut',
  'Caret',
  'Line',
  'Square',
  'Circle',
  'FreeText',
  'Text',
]);
/** Marks that keep what was answered to them. */
const MARGIN_KINDS: ReadonlySet<Mark['kind']> = new Set(['note', 'cut', 'add', 'swap']);

const cent = (v: number) => Math.round(v * 100) / 100;
const near = (a: Box, b: Box) => a.every((v, i) => Math.abs(v - b[i]!) < 0.1);
/** Whether two boxes have a corner in common. */
const touches = (a: Box, b: Box) =>
  [0, 2].some((i) => Math.abs(a[i]! - b[i]!) < 0.1) && [1, 3].some((i) => Math.abs(a[i]! - b[i]!) < 0.1);
const tooSmall = ([l, t, r, b]: Box) => r - l < 1 || b - t < 1;
const shrink = ([l, t, r, b]: Box, by: number): Box => [
  cent(l + by),
  cent(t + by),
  cent(r - by),
  cent(b - by),
];

/** The words whose middle lies in one of the bands, from the first to the last. */
function wordsUnder(text: PageText, bands: readonly Box[]): WordRange | null {
  let from = -1;
  let to = -1;
  text.words.forEach(({ box: [l, t, r, b] }, i) => {
    const [x, y] = [(l + r) / 2, (t + b) / 2];
    if (!bands.some((band) => x >= band[0] && x <= band[2] && y >= band[1] && y <= band[3])) return;
    if (from < 0) from = i;
    to = i;
  });
  return from < 0 ? null : { from, to };
}

const levelStroke = ([l, t, r, b]: Box): number[] =>
  [l, r].flatMap((x) => [Math.round(x * 100), Math.round((t + b) * 50), 128]);

/** The teacher's ink that is nearest to the annotation's colour. */
function inkOf(dict: PDFDict): InkColour {
  // Of words on the page C is the ground behind them; their own colour is in the default appearance.
  const c = nameOf(dict, 'Subtype') === 'FreeText' ? fillOf(textOf(dict, 'DA')) : numbers(dict, 'C');
  if (c.length !== 3) return 'garnet';
  const inks = InkColour.options.filter((ink) => !isStudentColour(ink));
  const off = (ink: InkColour) =>
    [1, 3, 5].reduce((sum, i, k) => {
      const part = Number.parseInt(INK_HEX[ink].slice(i, i + 2), 16) / 255;
      return sum + (part - c[k]!) ** 2;
    }, 0);
  return inks.reduce((best, ink) => (off(ink) < off(best) ? ink : best));
}
