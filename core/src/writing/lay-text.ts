import { type Measure, wrap } from '../answers/fit.ts';
import type { DocumentId } from '../ids/id.ts';
import { type DrawFormulas, measureSet, piecesIn, type SetPiece, setRuns } from '../words/set.ts';
import { LINED, LINED_ROOM, pictureSize } from './lined-page.ts';
import type { LongBlock, LongCell, LongInline } from './long-text.ts';

/** What a text is set with: the browser and the PDF writer each bring their own. */
export interface Setting {
  readonly measure: Measure;
  readonly formulas: DrawFormulas;
}

/** Words in one line; `x` from the left of the lines, in points. */
export interface LaidRow {
  readonly x: number;
  readonly size: number;
  readonly pieces: readonly SetPiece[];
}

export interface LaidPicture {
  readonly document: DocumentId;
  readonly alt: string;
  readonly x: number;
  readonly width: number;
  readonly height: number;
}

/** One line of a lined page, with all that stands in it. */
export interface LaidLine {
  readonly rows: readonly LaidRow[];
  /** It begins here and reaches down over the lines that follow. */
  readonly picture: LaidPicture | null;
  /** Rules of a table: upright ones by their x, level ones above and below by where they begin and end. */
  readonly upright: readonly number[];
  readonly above: readonly [number, number] | null;
  readonly below: readonly [number, number] | null;
  /** So many lines after it must stand on the same page. */
  readonly keeps: number;
  /** Where something is noted about the words of this line: the first line of them. */
  readonly notes: readonly { readonly x: number; readonly words: string }[];
  /** Space above a heading: nothing at the top of a page. */
  readonly gap: boolean;
}

const BARE: LaidLine = {
  rows: [],
  picture: null,
  upright: [],
  above: null,
  below: null,
  keeps: 0,
  notes: [],
  gap: false,
};

/** One block of a text as lines, whatever page they come to stand on. A block that did not change needs not be laid again. */
export function layBlock(block: LongBlock, setting: Setting): LaidLine[] {
  return lay(block, 0, LINED_ROOM, setting);
}

function lay(block: LongBlock, x: number, room: number, setting: Setting): LaidLine[] {
  switch (block.type) {
    case 'paragraph':
      return rowsOf(block.content, x, room, LINED.size, setting);
    case 'heading': {
      const bold = block.content.map((run) => ({ ...run, bold: true }));
      const rows = rowsOf(bold, x, room, LINED.heading[block.level], setting).map((l) => ({
        ...l,
        keeps: 1,
      }));
      return block.level === 2 ? [{ ...BARE, gap: true, keeps: 1 }, ...rows] : rows;
    }
    case 'picture': {
      const { width, height, lines } = pictureSize(block.wide, block.high, room);
      const { document, alt } = block;
      return Array.from({ length: lines }, (_, i) => ({
        ...BARE,
        picture: i === 0 ? { document, alt, x, width, height } : null,
        keeps: lines - 1 - i,
      }));
    }
    case 'list':
      return block.items.flatMap((item, i) => {
        const inner = x + LINED.indent;
        const lines = item.flatMap((b) => lay(b, inner, Math.max(40, room - LINED.indent), setting));
        const [first = BARE, ...rest] = lines;
        const sign = block.numbered ? `${i + 1}.` : '•';
        const left = inner - 6 - setting.measure(sign, LINED.size);
        const row = { x: Math.max(x, left), size: LINED.size, pieces: [plain(sign)] };
        return [{ ...first, rows: [row, ...first.rows] }, ...rest];
      });
    case 'table':
      return block.rows.flatMap((row, i) => layRow(row, i === 0, x, room, widest(block.rows), setting));
  }
}

const plain = (text: string): SetPiece => ({ as: 'text', x: 0, text, bold: false, italic: false });
const widest = (rows: readonly (readonly LongCell[])[]) => Math.max(1, ...rows.map((r) => r.length));

function rowsOf(
  content: readonly LongInline[],
  x: number,
  room: number,
  size: number,
  { measure, formulas }: Setting,
): LaidLine[] {
  const set = setRuns(content, formulas);
  const wide = measureSet(set, measure);
  const rows = wrap(set.text, room, (t) => wide(t, size)).map((r) => r.text);
  const noted = content.filter((run) => run.note);
  let told = 0;
  return piecesIn(rows, set, measure, size).map((pieces) => {
    const notes = pieces.flatMap((p) => {
      if (p.as !== 'text' || p.noted === undefined || p.noted < told) return [];
      told = p.noted + 1;
      return [{ x: x + p.x, words: noted[p.noted]!.note! }];
    });
    return { ...BARE, rows: pieces.length ? [{ x, size, pieces }] : [], notes };
  });
}

/** The cells of a row beside each other, all as wide; a row that is higher than a page goes on with the next. */
function layRow(
  cells: readonly LongCell[],
  first: boolean,
  x: number,
  room: number,
  columns: number,
  setting: Setting,
): LaidLine[] {
  const wide = room / columns;
  const laid = cells.map((cell, i) =>
    (cell.head ? cell.content.map(inBold) : cell.content).flatMap((b) =>
      lay(b, x + i * wide + LINED.cell, Math.max(10, wide - 2 * LINED.cell), setting),
    ),
  );
  const high = Math.max(1, ...laid.map((l) => l.length));
  const upright = Array.from({ length: columns + 1 }, (_, i) => x + i * wide);
  const level = [x, x + room] as const;
  return Array.from({ length: high }, (_, k) => {
    const beside = laid.flatMap((l) => l[k] ?? []);
    return {
      ...BARE,
      rows: beside.flatMap((l) => l.rows),
      picture: beside.find((l) => l.picture)?.picture ?? null,
      keeps: Math.max(0, ...beside.map((l) => l.keeps)),
      notes: beside.flatMap((l) => l.notes),
      upright,
      above: first && k === 0 ? level : null,
      below: k === high - 1 ? level : null,
    };
  });
}

const inBold = (block: LongBlock): LongBlock =>
  block.type === 'paragraph'
    ? { ...block, content: block.content.map((run) => ({ ...run, bold: true })) }
    : block;

/** Where a page begins: in which block of the text, and at which of its lines. */
export interface PageStart {
  readonly block: number;
  readonly line: number;
}

export interface LaidPage {
  readonly starts: PageStart;
  /** From top to bottom, one a line of the page. */
  readonly lines: readonly LaidLine[];
}

/**
 * The lines of all blocks on pages, in order: each page is filled before the next begins; a heading stays with what follows, a picture in one piece.
 * There is one page at least.
 */
export function layPages(blocks: readonly (readonly LaidLine[])[], most: number = LINED.lines): LaidPage[] {
  const flat = blocks.flatMap((lines, block) => lines.map((line, n) => ({ line, at: { block, line: n } })));
  const pages: { starts: PageStart; lines: LaidLine[] }[] = [];
  let page = { starts: { block: 0, line: 0 }, lines: [] as LaidLine[] };
  pages.push(page);
  flat.forEach(({ line, at }, i) => {
    // The last line that must stand on the same page.
    let end = i;
    for (let k = i; k <= end && k < flat.length && end - i < most; k++)
      end = Math.max(end, k + flat[k]!.line.keeps);
    const needs = Math.min(end, flat.length - 1) - i + 1;
    const room = most - page.lines.length;
    if (room < 1 || (needs > room && needs <= most && page.lines.length > 0)) {
      page = { starts: at, lines: [] };
      pages.push(page);
    }
    if (line.gap && page.lines.length === 0) return;
    page.lines.push(line);
  });
  return pages;
}
