import fontkit from '@cantoo/fontkit';
import type { PDFDocument, PDFFont } from '@cantoo/pdf-lib';
import { type Face, faceBeyond, firstFaces, type Written } from './font-files.ts';
import { asShown, type FacedLetter } from './reading-direction.ts';

/** What stands for a letter that no font of this machine has, and that says so. */
const UNKNOWN = '□';

/** Says how the letters round it are shown, and is nothing to see: joiners, marks of direction, choices of a sign's form. */
const UNSEEN = /\p{Default_Ignorable_Code_Point}/u;

/** What belongs to the letter before it. */
const CLINGS = /[\p{Default_Ignorable_Code_Point}\p{M}]/u;

/** Letters whose form depends on those beside them: their width is that of the row, not the sum of their own. */
const SHAPED =
  /[^\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}\p{Script=Common}\p{Script=Han}\p{Script=Hangul}\p{Script=Hiragana}\p{Script=Katakana}]/u;

export interface Run {
  readonly text: string;
  readonly font: PDFFont;
}

/** Text in many scripts in one document: each font is read and embedded when a first letter needs it. */
export class Fonts {
  readonly #embedded = new Map<Face, PDFFont>();
  readonly #widths = new Map<string, number>();
  readonly #first: readonly Face[];
  readonly #faceOfLetter = new Map<string, Face>();

  private constructor(first: readonly Face[]) {
    this.#first = first;
  }

  /** Fonts for all that will be written; every one that `texts` need is embedded now, since measuring cannot wait. */
  static async for(pdf: PDFDocument, texts: Iterable<string>, written: Written = 'print'): Promise<Fonts> {
    pdf.registerFontkit(fontkit);
    const fonts = new Fonts(await firstFaces(written));
    const letters = new Set<string>();
    for (const text of texts) for (const letter of text) letters.add(letter);
    for (const letter of letters) if (!(await fonts.#find(letter))) letters.add(UNKNOWN);
    const needed = new Set([fonts.#first[0]!, ...fonts.#faceOfLetter.values()]);
    for (const face of needed) fonts.#embedded.set(face, await pdf.embedFont(face.bytes, { subset: true }));
    return fonts;
  }

  async #find(letter: string): Promise<boolean> {
    if (UNSEEN.test(letter)) return true;
    const code = letter.codePointAt(0)!;
    const face = this.#first.find((f) => f.has(code)) ?? (await faceBeyond(letter));
    if (face) this.#faceOfLetter.set(letter, face);
    return face !== null;
  }

  #faceOf(letter: string): Face | null {
    const known = this.#faceOfLetter.get(letter);
    if (known) return known;
    const code = letter.codePointAt(0)!;
    return [...this.#embedded.keys()].find((face) => face.has(code)) ?? null;
  }

  /** Each letter with the face that writes it. What clings to the letter before it is written by the same face, where that can. */
  #faced(text: string): FacedLetter<Face>[] {
    const out: FacedLetter<Face>[] = [];
    for (const letter of text) {
      const before = out.at(-1)?.face;
      if (before && CLINGS.test(letter) && before.has(letter.codePointAt(0)!)) {
        out.push({ letter, face: before });
        continue;
      }
      if (UNSEEN.test(letter)) continue;
      const face = this.#faceOf(letter);
      out.push(face ? { letter, face } : { letter: UNKNOWN, face: this.#faceOf(UNKNOWN)! });
    }
    return out;
  }

  /** The text cut where its font changes, from left to right as it stands on the page. */
  runs(text: string): Run[] {
    return asShown(this.#faced(text)).map((run) => ({ text: run.text, font: this.#embedded.get(run.face)! }));
  }

  /**
   * How wide a row is, in the units of `size`. Letter by letter, as they are written: each is measured once, and a long text has the same ones again and
   * again. Only scripts that join their letters are measured a word at a time.
   */
  width(text: string, size: number): number {
    let wide = 0;
    for (const piece of SHAPED.test(text) ? text.split(/(?<= )|(?= )/u) : text) {
      let own = this.#widths.get(piece);
      if (own === undefined) {
        own = this.runs(piece).reduce(
          (sum, run) => sum + run.font.widthOfTextAtSize(run.text, 1000) / 1000,
          0,
        );
        this.#widths.set(piece, own);
      }
      wide += own;
    }
    return wide * size;
  }
}
