import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import fontkit from '@cantoo/fontkit';
import type { PDFDocument, PDFFont } from '@cantoo/pdf-lib';

/** Files of the shipped fonts, a script each, in the order they are asked for a letter. */
const FILES = [
  '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff',
  '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-latin-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-vietnamese-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-cyrillic-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-cyrillic-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-greek-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-greek-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-devanagari-400-normal.woff',
] as const;

/** The teacher's hand, before all others for what was written with it. */
const HAND_FILE = '@fontsource/kalam/files/kalam-latin-400-normal.woff';

/** What stands for a letter that none of the fonts has. */
const UNKNOWN = '?';

interface Face {
  readonly bytes: Uint8Array;
  has(code: number): boolean;
}

const loaded = new Map<string, Promise<Face>>();

function loadFace(file: string): Promise<Face> {
  const known = loaded.get(file);
  if (known) return known;
  const face = readFile(createRequire(import.meta.url).resolve(file)).then((buffer) => {
    const bytes = new Uint8Array(buffer);
    const font = fontkit.create(bytes) as unknown as { hasGlyphForCodePoint(code: number): boolean };
    return { bytes, has: (code: number) => font.hasGlyphForCodePoint(code) };
  });
  loaded.set(file, face);
  return face;
}

export interface Run {
  readonly text: string;
  readonly font: PDFFont;
}

/** Text in many scripts in one document: each font is embedded when a first letter needs it. */
export class Fonts {
  readonly #pdf: PDFDocument;
  readonly #faces: readonly Face[];
  readonly #embedded = new Map<Face, PDFFont>();
  readonly #widths = new Map<string, number>();
  readonly #faceOfLetter = new Map<string, Face>();

  private constructor(pdf: PDFDocument, all: readonly Face[]) {
    this.#pdf = pdf;
    this.#faces = all;
  }

  /** Fonts for all that will be written; every one that `texts` need is embedded now, since measuring cannot wait. */
  static async for(
    pdf: PDFDocument,
    texts: Iterable<string>,
    written: 'print' | 'hand' = 'print',
  ): Promise<Fonts> {
    pdf.registerFontkit(fontkit);
    const files = written === 'hand' ? [HAND_FILE, ...FILES] : FILES;
    const fonts = new Fonts(pdf, await Promise.all(files.map(loadFace)));
    const needed = new Set<Face>([fonts.#faces[0]!]);
    for (const text of texts) for (const letter of text) needed.add(fonts.#faceOf(letter));
    for (const face of needed)
      fonts.#embedded.set(face, await fonts.#pdf.embedFont(face.bytes, { subset: true }));
    return fonts;
  }

  #faceOf(letter: string): Face {
    const known = this.#faceOfLetter.get(letter);
    if (known) return known;
    const code = letter.codePointAt(0)!;
    const face = this.#faces.find((f) => f.has(code)) ?? this.#faces[0]!;
    this.#faceOfLetter.set(letter, face);
    return face;
  }

  /** The text cut where its font changes. */
  runs(text: string): Run[] {
    const out: { text: string; font: PDFFont }[] = [];
    for (const letter of text) {
      const face = this.#faceOf(letter);
      const font = this.#embedded.get(face)!;
      const shown = face.has(letter.codePointAt(0)!) ? letter : UNKNOWN;
      const last = out.at(-1);
      if (last?.font === font) last.text += shown;
      else out.push({ text: shown, font });
    }
    return out;
  }

  /** Letter by letter, as they are written: each is measured once, and a long text has the same ones again and again. */
  width(text: string, size: number): number {
    let wide = 0;
    for (const letter of text) {
      let own = this.#widths.get(letter);
      if (own === undefined) {
        const [run] = this.runs(letter);
        own = run ? run.font.widthOfTextAtSize(run.text, 1000) / 1000 : 0;
        this.#widths.set(letter, own);
      }
      wide += own;
    }
    return wide * size;
  }
}
