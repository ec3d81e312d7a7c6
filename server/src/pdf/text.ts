import {
  type Box,
  boxAround,
  type DrawnLine,
  fromPdf,
  inReadOrder,
  type PageFrame,
  type PageText,
  readsAs,
} from '@jotmark/core';
import type { Engine } from './engine.ts';

interface Char {
  readonly text: string;
  readonly box: Box;
}

/** Reads one page's text: words with their boxes in page space, lines as high as their tallest character. */
export function readPageText(engine: Engine, document: number, index: number, frame: PageFrame): PageText {
  const page = engine.FPDF_LoadPage(document, index);
  if (!page) return { words: [], lines: [] };
  // PDFium orders lines by how the page is shown; a page turned by its Rotate alone still reads as it was written.
  engine.FPDFPage_SetRotation(page, 0);
  const text = engine.FPDFText_LoadPage(page);
  const rect = engine.pdfium.wasmExports.malloc(16);
  try {
    const lines: DrawnLine[] = [];
    let line: Char[][] = [];
    let word: Char[] = [];
    const endWord = () => {
      if (word.length) line.push(word);
      word = [];
    };
    const endLine = () => {
      endWord();
      if (line.length) lines.push(layLine(line));
      line = [];
    };
    const count = text ? engine.FPDFText_CountChars(text) : 0;
    for (let i = 0; i < count; i++) {
      const code = engine.FPDFText_GetUnicode(text, i);
      if (code === 10 || code === 13) endLine();
      else if (code === 32 || code === 9 || code === 160 || code === 0x3000) endWord();
      else if (readsAs(code) !== null && engine.FPDFText_GetLooseCharBox(text, i, rect)) {
        const box = readRect(engine, rect, frame);
        // A line that PDFium did not end: text set in columns or boxes jumps, words of one line do not.
        if (word.length && farApart(word.at(-1)!.box, box)) endLine();
        word.push({ text: readsAs(code)!, box });
      }
    }
    endLine();
    return inReadOrder(lines);
  } finally {
    engine.pdfium.wasmExports.free(rect);
    if (text) engine.FPDFText_ClosePage(text);
    engine.FPDF_ClosePage(page);
  }
}

/** FS_RECTF: left, top, right, bottom as floats in the page's user space, y up. */
function readRect(engine: Engine, at: number, frame: PageFrame): Box {
  const f = (n: number) => engine.pdfium.getValue(at + n * 4, 'float') as number;
  const [x0, y0] = fromPdf(frame, [f(0), f(1)]);
  const [x1, y1] = fromPdf(frame, [f(2), f(3)]);
  return [round(Math.min(x0, x1)), round(Math.min(y0, y1)), round(Math.max(x0, x1)), round(Math.max(y0, y1))];
}

const round = (n: number) => Math.round(Math.max(-20_000, Math.min(20_000, n)) * 100) / 100;

function farApart(a: Box, b: Box): boolean {
  const em = Math.max(a[3] - a[1], a[2] - a[0], 4);
  const dx = Math.max(0, b[0] - a[2], a[0] - b[2]);
  const dy = Math.max(0, b[1] - a[3], a[1] - b[3]);
  return Math.hypot(dx, dy) > 4 * em;
}

function layLine(chars: readonly Char[][]): DrawnLine {
  const words = chars.map((word) => ({
    text: word
      .map((c) => c.text)
      .join('')
      .slice(0, 400),
    box: boxAround(word.map((c) => c.box))!,
  }));
  const all = chars.flat();
  const first = all[0]!.box;
  const last = all.at(-1)!.box;
  const dx = Math.abs(first[0] + first[2] - last[0] - last[2]);
  const dy = Math.abs(first[1] + first[3] - last[1] - last[3]);
  return { words, box: boxAround(all.map((c) => c.box))!, along: dy > dx ? 'y' : 'x' };
}
