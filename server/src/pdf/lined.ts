import { type PDFDocument, type PDFImage, type PDFPage, rgb } from '@cantoo/pdf-lib';
import {
  type DocumentId,
  type LaidLine,
  LINED,
  LINED_FRAME,
  type LongText,
  layBlock,
  layPages,
  MOST_PIXELS_OF_A_PICTURE,
  picturesOf,
} from '@jotmark/core';
import sharp from 'sharp';
import { n } from './drawing.ts';
import type { Fonts } from './fonts.ts';
import { formulas } from './formula.ts';
import type { OwnNotes } from './own-notes.ts';
import { measureIn, TYPED, writePieces, writeText } from './write-text.ts';

/** What stands on lined pages besides the text itself. */
export const LINED_SIGNS = '•0123456789. ';
const RULE = '0.83 0.86 0.89 RG 0.5 w';
const CELL = '0.45 0.48 0.53 RG 0.7 w';
const SOFT = rgb(0.36, 0.37, 0.4);
/** Pictures are kept to what print needs: more dots than this no page shows. */
const MOST_DOTS = 1600;
const HEAD = 46;
const FOOT = LINED.height - 34;

export interface Lined {
  /** The page on which the text begins, with its lines drawn; null: all its pages come behind. */
  readonly own: PDFPage | null;
  /** The number of the question, on top of each page of its own. */
  readonly label: string;
  readonly pictures: Readonly<Record<DocumentId, string>>;
  /** Where what was noted is numbered; `ownIndex` is the page the text begins on, in the document. */
  readonly noted: OwnNotes;
  readonly ownIndex: number;
}

/** Writes a text on lined pages, as many as it takes, as their own content. */
export async function writeLined(
  pdf: PDFDocument,
  fonts: Fonts,
  text: LongText,
  { own, label, pictures, noted, ownIndex }: Lined,
): Promise<void> {
  const setting = { measure: measureIn(fonts), formulas };
  const pages = layPages(text.content.map((b) => layBlock(b, setting)));
  const images = await embedded(pdf, text, pictures);
  for (const [i, { lines }] of pages.entries()) {
    const first = i === 0 && own !== null;
    const page = first ? own : newPage(pdf, fonts, own ? '' : label, i + 1);
    const index = first ? ownIndex : pdf.getPageCount() - 1;
    drawTables(page, lines);
    for (const [k, line] of lines.entries()) {
      const top = LINED.top + k * LINED.leading;
      const shown = line.picture && images.get(line.picture.document);
      if (line.picture && shown) {
        const { x, width, height } = line.picture;
        page.drawImage(shown, { x: LINED.left + x, y: LINED.height - top - height, width, height });
      }
      for (const { x, size, pieces } of line.rows) {
        writePieces(page, LINED_FRAME, { fonts }, pieces, LINED.left + x, top + LINED.baseline, size);
        underline(page, fonts, line, top);
      }
      for (const { x, words } of line.notes)
        noted.add(page, LINED_FRAME, index, LINED.left + x, top + 2, words);
    }
  }
}

function newPage(pdf: PDFDocument, fonts: Fonts, label: string, number: number): PDFPage {
  const page = pdf.addPage([LINED.width, LINED.height]);
  drawRules(page);
  const pen = { fonts, colour: SOFT };
  if (label) writeText(page, LINED_FRAME, pen, label, LINED.left, HEAD, 11);
  const foot = String(number);
  writeText(page, LINED_FRAME, pen, foot, LINED.right - fonts.width(foot, 10), FOOT, 10);
  return page;
}

/** The empty lines of a page. */
export function drawRules(page: PDFPage): void {
  const parts = Array.from({ length: LINED.lines }, (_, k) => {
    const y = n(LINED.height - LINED.top - k * LINED.leading - LINED.rule);
    return `${LINED.left} ${y} m ${LINED.right} ${y} l`;
  });
  add(page, `q ${RULE} ${parts.join(' ')} S Q`);
}

const add = (page: PDFPage, drawing: string): void => {
  const { context } = page.doc;
  page.node.addContentStream(context.register(context.flateStream(drawing)));
};

/** The rules of tables, on white, so that the lines of the page do not run through them. */
function drawTables(page: PDFPage, lines: readonly LaidLine[]): void {
  const parts: string[] = [];
  for (const [k, line] of lines.entries()) {
    if (line.upright.length === 0) continue;
    const top = LINED.height - LINED.top - k * LINED.leading;
    const foot = top - LINED.leading;
    const [from, to] = [LINED.left + line.upright[0]!, LINED.left + line.upright.at(-1)!];
    parts.push(`1 g ${n(from)} ${n(foot)} ${n(to - from)} ${LINED.leading} re f ${CELL}`);
    for (const x of line.upright)
      parts.push(`${n(LINED.left + x)} ${n(top)} m ${n(LINED.left + x)} ${n(foot)} l`);
    // A row that goes on from the page before begins with a rule too.
    if (line.above || k === 0) parts.push(`${n(from)} ${n(top)} m ${n(to)} ${n(top)} l`);
    if (line.below || k === lines.length - 1) parts.push(`${n(from)} ${n(foot)} m ${n(to)} ${n(foot)} l`);
    parts.push('S');
  }
  if (parts.length) add(page, `q ${parts.join(' ')} Q`);
}

/** Links, and words about which something is noted, have a line below. */
function underline(page: PDFPage, fonts: Fonts, line: LaidLine, top: number): void {
  const y = n(LINED.height - top - LINED.baseline - 1.6);
  const parts = line.rows.flatMap(({ x, size, pieces }) =>
    pieces.flatMap((p) => {
      if (p.as !== 'text' || !(p.link || p.noted !== undefined)) return [];
      const from = LINED.left + x + p.x;
      return [`${n(from)} ${y} m ${n(from + fonts.width(p.text, size))} ${y} l`];
    }),
  );
  const { red, green, blue } = TYPED;
  if (parts.length) add(page, `q ${n(red)} ${n(green)} ${n(blue)} RG 0.6 w ${parts.join(' ')} S Q`);
}

/** The pictures of a text, made as small as print needs. One that cannot be read leaves its place empty. */
async function embedded(
  pdf: PDFDocument,
  text: LongText,
  pictures: Readonly<Record<DocumentId, string>>,
): Promise<ReadonlyMap<DocumentId, PDFImage>> {
  const out = new Map<DocumentId, PDFImage>();
  for (const id of picturesOf(text)) {
    const file = pictures[id];
    if (!file) continue;
    const jpeg = await sharp(file, { limitInputPixels: MOST_PIXELS_OF_A_PICTURE })
      .rotate()
      .resize(MOST_DOTS, MOST_DOTS, { fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#fff' })
      .jpeg({ quality: 82 })
      .toBuffer()
      .catch(() => null);
    if (jpeg) out.set(id, await pdf.embedJpg(new Uint8Array(jpeg)));
  }
  return out;
}
