import { type PDFDocument, type PDFImage, PDFName, type PDFRef } from '@cantoo/pdf-lib';
import {
  type Box,
  coverOf,
  formatPoints,
  HAND_BOLD,
  HAND_LEADING,
  HAND_LEAN,
  type Mark,
  type PageFrame,
  type QuarterTurn,
  STAMP_LINE,
  STAMP_POINTS_WIDTH,
  type StampMark,
  stampName,
  stampParts,
  type TextMark,
  textRows,
} from '@jotmark/core';
import type { BytesOf } from './bytes.ts';
import { n, toRect } from './drawing.ts';
import { Fonts } from './fonts.ts';
import { drawOutlines, formulas } from './formula.ts';

/**
 * Appearances of what was written upright while the page was shown turned: page text and stamps. Drawn in a space of their own, x to
 * the right and y up as they are read, and turned by the form's matrix.
 */
export class Upright {
  readonly #pdf: PDFDocument;
  /** The teacher's hand; null where nothing is written in it. */
  readonly #hand: Fonts | null;
  readonly #pictures: ReadonlyMap<string, PDFImage>;

  private constructor(pdf: PDFDocument, hand: Fonts | null, pictures: ReadonlyMap<string, PDFImage>) {
    this.#pdf = pdf;
    this.#hand = hand;
    this.#pictures = pictures;
  }

  /** Embeds the letters and pictures that these marks need. */
  static async for(pdf: PDFDocument, marks: readonly Mark[], bytes: BytesOf): Promise<Upright> {
    const texts: string[] = [];
    const pictures = new Map<string, PDFImage>();
    for (const mark of marks) {
      // The signs before the items of lists too.
      if (mark.kind === 'text') texts.push(mark.words, '•.0123456789');
      if (mark.kind !== 'stamp') continue;
      if (mark.points !== null) texts.push(formatPoints(mark.points));
      const { look } = mark;
      if (look.of !== 'picture' || pictures.has(look.picture)) continue;
      // A picture that cannot be read leaves an empty frame; the marking is worth more than it.
      const png = bytes(look.picture);
      const image = png && (await pdf.embedPng(png).catch(() => null));
      if (image) pictures.set(look.picture, image);
    }
    const hand = texts.length ? await Fonts.for(pdf, texts, 'hand') : null;
    return new Upright(pdf, hand, pictures);
  }

  /** Page text. Letters may be a hair wider here than on the screen, so it is as high as its rows need. */
  text(
    mark: TextMark,
    frame: PageFrame,
    colour: readonly number[],
  ): { look: PDFRef; rect: Box; size: number } {
    const fonts = this.#hand!;
    const rows = textRows(mark, (text, size) => fonts.width(text, size), formulas);
    const u = 1 / frame.userUnit;
    const h = Math.max(mark.h, rows.length * HAND_LEADING * mark.size);
    const used = new Map<string, PDFRef>();
    const letters: string[] = [];
    const outlines: string[] = [];
    for (const row of rows)
      for (const piece of row.pieces) {
        const [x, y] = [(row.right + piece.x) * u, -row.down * u];
        if (piece.as === 'formula') outlines.push(drawOutlines(piece.drawn, x, y, piece.size * u));
        else letters.push(this.#write(used, piece.text, x, y, mark.size * u, piece));
      }
    const w = Math.max(mark.w, ...rows.map((row) => row.end));
    const look = this.#form(
      [0, -h * u, w * u, 0],
      mark.turn,
      `${paint(colour)} rg ${paint(colour)} RG 1 j\nBT ${letters.join('\n')} ET\n${outlines.join('\n')}`,
      used,
    );
    return { look, rect: toRect(frame, coverOf({ ...mark, w, h })), size: mark.size * u };
  }

  /** A stamp, with the points it earns; and what it is called. */
  stamp(mark: StampMark, frame: PageFrame, colour: readonly number[]): { look: PDFRef; name: string } {
    const side = mark.size / frame.userUnit;
    const half = side / 2;
    const right = mark.points === null ? half : half + side * STAMP_POINTS_WIDTH;
    const used = new Map<string, PDFRef>();
    const at = (x: number, y: number) => `${n(x * side - half)} ${n(half - y * side)}`;
    const out = [`${paint(colour)} rg ${paint(colour)} RG ${n(side * STAMP_LINE)} w 1 J 1 j`];
    for (const part of stampParts(mark.look)) {
      out.push(...part.points.map(([x, y], i) => `${at(x, y)} ${i ? 'l' : 'm'}`), part.filled ? 'f' : 'S');
    }
    if (mark.look.of === 'picture') out.push(this.#picture(used, mark.look.picture, side));
    const name = stampName(mark.look);
    if (mark.points === null)
      return { look: this.#form([-half, -half, half, half], mark.turn, out.join('\n'), used), name };
    const points = formatPoints(mark.points);
    const size = side * 0.62;
    const wide = this.#hand!.width(points, size);
    const narrow = Math.min(1, (side * STAMP_POINTS_WIDTH) / wide);
    out.push(
      'BT',
      `${n(narrow * 100)} Tz`,
      this.#write(used, points, half + side * 0.04, half - side * 0.82, size),
      'ET',
    );
    const look = this.#form([-half, -half, right, half], mark.turn, out.join('\n'), used);
    return { look, name: `${name}, ${points}` };
  }

  /** Letters from here on, within a text object. */
  #write(
    used: Map<string, PDFRef>,
    text: string,
    x: number,
    y: number,
    size: number,
    form: { readonly bold: boolean; readonly italic: boolean } = PLAIN,
  ): string {
    const out = [`1 0 ${form.italic ? HAND_LEAN : 0} 1 ${n(x)} ${n(y)} Tm`];
    out.push(form.bold ? `2 Tr ${n(size * HAND_BOLD)} w` : '0 Tr');
    for (const { text: letters, font } of this.#hand!.runs(text)) {
      const name = `F${font.ref.objectNumber}`;
      used.set(name, font.ref);
      out.push(`/${name} ${n(size)} Tf ${font.encodeText(letters)} Tj`);
    }
    return out.join(' ');
  }

  #picture(used: Map<string, PDFRef>, png: string, side: number): string {
    const image = this.#pictures.get(png);
    if (!image) return `0.5 w ${n(-side / 2)} ${n(-side / 2)} ${n(side)} ${n(side)} re S`;
    const by = side / Math.max(image.width, image.height);
    const [w, h] = [image.width * by, image.height * by];
    used.set('Picture', image.ref);
    return `q ${n(w)} 0 0 ${n(h)} ${n(-w / 2)} ${n(-h / 2)} cm /Picture Do Q`;
  }

  #form(box: Box, turn: QuarterTurn, drawing: string, used: ReadonlyMap<string, PDFRef>): PDFRef {
    const { context } = this.#pdf;
    const cos = turn === 0 ? 1 : turn === 180 ? -1 : 0;
    const sin = turn === 90 ? 1 : turn === 270 ? -1 : 0;
    const fonts = context.obj({});
    const pictures = context.obj({});
    for (const [name, ref] of used) (name === 'Picture' ? pictures : fonts).set(PDFName.of(name), ref);
    return context.register(
      context.stream(drawing, {
        Type: 'XObject',
        Subtype: 'Form',
        BBox: [...box],
        Matrix: [cos, sin, -sin, cos, 0, 0],
        Resources: { Font: fonts, XObject: pictures },
      }),
    );
  }
}

const PLAIN = { bold: false, italic: false };

const paint = (colour: readonly number[]) => colour.map(n).join(' ');
