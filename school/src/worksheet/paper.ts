import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import fontkit from '@cantoo/fontkit';
import { PDFDocument, type PDFFont, type PDFPage, rgb } from '@cantoo/pdf-lib';

export const PAGE = { width: 595, height: 842, left: 64, right: 531 } as const;
export const BLACK = rgb(0.12, 0.13, 0.15);
export const GREY = rgb(0.5, 0.5, 0.52);
export const RULE = rgb(0.6, 0.6, 0.62);

type Weight = 'plain' | 'bold';

/** Fontsource ships one file a script; a text is split by which of them has the letter. */
async function fontBytes(): Promise<Record<Weight, Uint8Array[]>> {
  const require = createRequire(import.meta.url);
  const dir = require
    .resolve('@fontsource/atkinson-hyperlegible-next/package.json')
    .replace('package.json', 'files/');
  const load = (weight: number) =>
    Promise.all(
      ['latin', 'latin-ext'].map(
        async (s) =>
          new Uint8Array(await readFile(`${dir}atkinson-hyperlegible-next-${s}-${weight}-normal.woff`)),
      ),
    );
  return { plain: await load(400), bold: await load(700) };
}
let loaded: ReturnType<typeof fontBytes> | null = null;

/** A PDF being drawn, y counted down from the top as a teacher reads. */
export class Paper {
  readonly pdf: PDFDocument;
  readonly #fonts: Record<Weight, PDFFont[]>;

  private constructor(pdf: PDFDocument, fonts: Record<Weight, PDFFont[]>) {
    this.pdf = pdf;
    this.#fonts = fonts;
  }

  static async of(bytes: Uint8Array | null): Promise<Paper> {
    const pdf = bytes ? await PDFDocument.load(bytes) : await PDFDocument.create();
    // The types of fontkit and pdf-lib differ in a detail neither uses.
    pdf.registerFontkit(fontkit as unknown as Parameters<PDFDocument['registerFontkit']>[0]);
    loaded ??= fontBytes();
    const all = await loaded;
    const embed = (list: Uint8Array[]) => Promise.all(list.map((b) => pdf.embedFont(b, { subset: true })));
    return new Paper(pdf, { plain: await embed(all.plain), bold: await embed(all.bold) });
  }

  page(): PDFPage {
    return this.pdf.addPage([PAGE.width, PAGE.height]);
  }

  /** Runs of text that one font can write; a letter no font has is written without its accents. */
  #runs(text: string, weight: Weight): { font: PDFFont; text: string }[] {
    const runs: { font: PDFFont; text: string }[] = [];
    const has = (font: PDFFont, c: string) => font.getCharacterSet().includes(c.codePointAt(0)!);
    for (const raw of text) {
      const candidates = [raw, raw.normalize('NFD')[0]!, '?'];
      const char = candidates.find((c) => this.#fonts[weight].some((f) => has(f, c)))!;
      const font = this.#fonts[weight].find((f) => has(f, char))!;
      const last = runs.at(-1);
      if (last?.font === font) last.text += char;
      else runs.push({ font, text: char });
    }
    return runs;
  }

  width(text: string, size: number, weight: Weight = 'plain'): number {
    return this.#runs(text, weight).reduce((w, r) => w + r.font.widthOfTextAtSize(r.text, size), 0);
  }

  text(
    page: PDFPage,
    text: string,
    x: number,
    y: number,
    size: number,
    weight: Weight = 'plain',
    color = BLACK,
  ): void {
    let at = x;
    for (const run of this.#runs(text, weight)) {
      page.drawText(run.text, { x: at, y: PAGE.height - y, size, font: run.font, color });
      at += run.font.widthOfTextAtSize(run.text, size);
    }
  }

  right(page: PDFPage, text: string, x: number, y: number, size: number, color = BLACK): void {
    this.text(page, text, x - this.width(text, size), y, size, 'plain', color);
  }

  /** Wraps at `width`; gives the y of the line after the last. */
  paragraph(
    page: PDFPage,
    text: string,
    x: number,
    y: number,
    width: number,
    size: number,
    leading: number,
    color = BLACK,
  ): number {
    let line = '';
    let at = y;
    for (const word of text.split(' ')) {
      const longer = line ? `${line} ${word}` : word;
      if (line && this.width(longer, size) > width) {
        this.text(page, line, x, at, size, 'plain', color);
        at += leading;
        line = word;
      } else line = longer;
    }
    if (line) this.text(page, line, x, at, size, 'plain', color);
    return at + leading;
  }

  rule(page: PDFPage, x0: number, x1: number, y: number, thickness = 0.6, color = RULE): void {
    page.drawLine({
      start: { x: x0, y: PAGE.height - y },
      end: { x: x1, y: PAGE.height - y },
      thickness,
      color,
    });
  }

  box(page: PDFPage, x: number, y: number, width: number, height: number): void {
    page.drawRectangle({
      x,
      y: PAGE.height - y - height,
      width,
      height,
      borderColor: RULE,
      borderWidth: 0.8,
    });
  }
}
