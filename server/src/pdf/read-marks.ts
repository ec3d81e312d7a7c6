import { createHash } from 'node:crypto';
import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFHexString,
  PDFName,
  PDFNumber,
  PDFRef,
  PDFString,
} from '@cantoo/pdf-lib';
import {
  type Box,
  boxAround,
  type DocumentId,
  fromPdf,
  HAND_LEADING,
  INK_HEX,
  InkColour,
  isStudentColour,
  isWorded,
  Mark,
  MarkId,
  makeId,
  type PageFrame,
  type PageText,
  type Point,
  quoteOf,
  type WordRange,
} from '@jotmark/core';
import { annotationBox, toRect } from './drawing.ts';
import { MARK_KEY, PAGE_KEY, readKeptMark } from './kept-mark.ts';

/** Which page of which document a page says it is. */
export interface PageSign {
  readonly document: string;
  readonly page: number;
}

export interface FoundMarks {
  /** Of every page of the file; null where it says nothing. */
  readonly pages: readonly (PageSign | null)[];
  /** Marks by page of the file; their document is not known yet. */
  readonly marks: readonly Mark[];
  /** Kinds of annotations that are no marks of ours, each as often as it is there. */
  readonly unknown: readonly string[];
}

/** Stands for the document until it is known. */
const NOWHERE = '00000000-0000-7000-8000-000000000000' as DocumentId;
/** Belongs to the page or to another annotation. */
const NO_MARKS: ReadonlySet<string> = new Set(['Popup', 'Link', 'Widget']);
const MOST = 5000;

/** Reads the annotations of a document, of whatever program, as marks. What cannot be read is named, never guessed at. */
export function readMarks(
  pdf: PDFDocument,
  frames: readonly PageFrame[],
  text: readonly PageText[],
): FoundMarks {
  const marks: Mark[] = [];
  const unknown: string[] = [];
  const pages = pdf.getPages().map((page, index) => {
    const frame = frames[index];
    const annots = page.node.Annots();
    if (frame && annots) {
      const reader = new PageReader(frame, text[index] ?? { words: [], lines: [] }, index, annots);
      const found = reader.read(MOST - marks.length);
      marks.push(...found.marks);
      unknown.push(...found.unknown);
    }
    return signOf(page.node);
  });
  return { pages, marks, unknown };
}

function signOf(page: PDFDict): PageSign | null {
  const [document, number] = textOf(page, PAGE_KEY).split(':');
  return document && number !== undefined ? { document, page: Number(number) } : null;
}

class PageReader {
  readonly #frame: PageFrame;
  readonly #text: PageText;
  readonly #page: number;
  readonly #all: { readonly ref: PDFRef | null; readonly dict: PDFDict }[] = [];

  constructor(frame: PageFrame, text: PageText, page: number, annots: PDFArray) {
    this.#frame = frame;
    this.#text = text;
    this.#page = page;
    for (let i = 0; i < Math.min(annots.size(), 20_000); i++) {
      const ref = annots.get(i);
      const dict = annots.lookup(i);
      if (dict instanceof PDFDict) this.#all.push({ ref: ref instanceof PDFRef ? ref : null, dict });
    }
  }

  read(most: number): { marks: Mark[]; unknown: string[] } {
    const marks: Mark[] = [];
    const unknown: string[] = [];
    for (const { ref, dict } of this.#all) {
      const subtype = nameOf(dict, 'Subtype');
      // What answers to another annotation, or is grouped with it, is read with that one.
      if (NO_MARKS.has(subtype) || dict.get(PDFName.of('IRT')) instanceof PDFRef) continue;
      if (marks.length >= most) break;
      let mark: Mark | null = null;
      try {
        mark = this.#own(dict) ?? this.#standard(dict, subtype, ref);
      } catch {
        // A broken annotation must not take the others with it.
      }
      if (mark) marks.push(mark);
      else unknown.push(subtype || 'unnamed');
    }
    return { marks, unknown };
  }

  /** A mark that was written by this program and not touched since by another. */
  #own(dict: PDFDict): Mark | null {
    const text = textOf(dict, MARK_KEY);
    if (!text) return null;
    const mark = readKeptMark(text, { document: NOWHERE, page: this.#page }, this.#ink(dict));
    if (!mark) return null;
    const box = rectOf(dict);
    // Page text is written as large as its letters need, so only its corner tells.
    const meant = toRect(this.#frame, annotationBox(mark));
    const moved = mark.kind === 'text' ? !touches(box, meant) : !near(box, meant);
    const said = isWorded(mark) && textOf(dict, 'Contents') !== mark.words;
    return moved || said || inkOf(dict) !== mark.colour ? null : mark;
  }

  #standard(dict: PDFDict, subtype: string, ref: PDFRef | null): Mark | null {
    const kind = this.#kind(dict, subtype, ref);
    if (!kind) return null;
    const read = Mark.safeParse({
      v: 1,
      id: this.#id(dict, subtype),
      document: NOWHERE,
      page: this.#page,
      colour: inkOf(dict),
      // Other programs write the name of their tool there.
      focus: dict.has(PDFName.of(MARK_KEY)) ? textOf(dict, 'Subj').slice(0, 40) || null : null,
      madeAt: dateOf(textOf(dict, 'CreationDate') || textOf(dict, 'M')),
      ...kind,
    });
    return read.success ? read.data : null;
  }

  #kind(dict: PDFDict, subtype: string, ref: PDFRef | null): object | null {
    const words = [textOf(dict, 'Contents'), ...this.#replies(ref)].filter(Boolean).join('\n').slice(0, 4000);
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
        const struck = this.#all.find(
          (a) => nameOf(a.dict, 'Subtype') === 'StrikeOut' && a.dict.get(PDFName.of('IRT')) === ref && ref,
        );
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

  /** What was answered to an annotation, by whoever. */
  #replies(ref: PDFRef | null): string[] {
    if (!ref) return [];
    return this.#all
      .filter((a) => a.dict.get(PDFName.of('IRT')) === ref && nameOf(a.dict, 'RT') !== 'Group')
      .map((a) => textOf(a.dict, 'Contents'));
  }

  /** Its own name where it has one of ours, else one made of what it is: brought in twice it is the same. */
  #id(dict: PDFDict, subtype: string): string {
    const named = MarkId.safeParse(textOf(dict, 'NM'));
    if (named.success) return named.data;
    const what = [
      this.#page,
      subtype,
      textOf(dict, 'NM'),
      numbers(dict, 'Rect').join(),
      textOf(dict, 'Contents'),
    ];
    return makeId(0, createHash('sha256').update(what.join('|')).digest());
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
  #add(box: Box, words: string): object | null {
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

function textOf(dict: PDFDict, key: string): string {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFString || value instanceof PDFHexString ? value.decodeText() : '';
}

function nameOf(dict: PDFDict, key: string): string {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFName ? value.decodeText() : '';
}

function number(dict: PDFDict, key: string, otherwise: number): number {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFNumber && Number.isFinite(value.asNumber()) ? value.asNumber() : otherwise;
}

function numbers(dict: PDFDict, key: string): number[] {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFArray ? asNumbers(value) : [];
}

function asNumbers(array: PDFArray): number[] {
  const out: number[] = [];
  for (let i = 0; i < array.size(); i++) {
    const value = array.lookup(i);
    if (value instanceof PDFNumber && Number.isFinite(value.asNumber())) out.push(value.asNumber());
  }
  return out;
}

function rectOf(dict: PDFDict): Box {
  const [a = 0, b = 0, c = 0, d = 0] = numbers(dict, 'Rect');
  return [Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d)];
}

/** The size in a default appearance such as "0 0 1 rg /Helv 12 Tf", in units of the page; 12 where it says none. */
function fontSize(appearance: string): number {
  const size = Number(/([\d.]+)\s+Tf/.exec(appearance)?.[1]);
  return size >= 4 && size <= 96 ? size : 12;
}

/** The colour in a default appearance, as red, green and blue; none where it is given another way. */
const fillOf = (appearance: string): number[] =>
  (/([\d.]+) ([\d.]+) ([\d.]+) rg/.exec(appearance)?.slice(1) ?? []).map(Number);

/** Milliseconds of a PDF date (ISO 32000-1, 7.9.4); 0 where it is none. */
function dateOf(text: string): number {
  const m = /^D:(\d{4})(\d\d)?(\d\d)?(\d\d)?(\d\d)?(\d\d)?(?:([+-])(\d\d)'?(\d\d)?)?/.exec(text);
  if (!m) return 0;
  const [, y, mo = '01', d = '01', h = '00', mi = '00', s = '00', sign, oh = '00', om = '00'] = m;
  const utc = Date.UTC(Number(y), Number(mo) - 1, Number(d), Number(h), Number(mi), Number(s));
  const off = sign ? (Number(oh) * 60 + Number(om)) * 60_000 * (sign === '-' ? -1 : 1) : 0;
  return Math.max(0, utc - off) || 0;
}
