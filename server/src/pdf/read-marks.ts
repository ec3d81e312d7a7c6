import type { PDFDict, PDFDocument } from '@cantoo/pdf-lib';
import type { Mark, PageFrame, PageText } from '@jotmark/core';
import { nameOf, textOf } from './dict.ts';
import { PAGE_KEY } from './kept-mark.ts';
import { PageReader } from './page-reader.ts';

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
  /** Kinds of annotations that can neither be read nor carried along, each as often as it is there. */
  readonly unknown: readonly string[];
}

const MOST = 5000;
/** Letters of base64 that all carried annotations of a file have together. */
const MOST_CARRIED_IN_ALL = 4_000_000;

/**
 * Reads the annotations of a document, of whatever program, as marks. Kinds that there is no mark for are carried along whole; what cannot be read or
 * carried is named, never guessed at.
 */
export async function readMarks(
  pdf: PDFDocument,
  frames: readonly PageFrame[],
  text: readonly PageText[],
): Promise<FoundMarks> {
  const marks: Mark[] = [];
  const unknown: string[] = [];
  const pages: (PageSign | null)[] = [];
  let room = MOST_CARRIED_IN_ALL;
  for (const [index, page] of pdf.getPages().entries()) {
    const frame = frames[index];
    const annots = page.node.Annots();
    const sign = signOf(page.node);
    pages.push(sign);
    if (!frame || !annots) continue;
    const reader = new PageReader(frame, text[index] ?? { words: [], lines: [] }, index, sign, annots);
    const found = reader.read(MOST - marks.length);
    marks.push(...found.marks);
    for (const other of found.others) {
      const carried = room > 0 && marks.length < MOST ? await reader.carry(pdf, other) : null;
      if (carried) marks.push(carried);
      else unknown.push(nameOf(other.dict, 'Subtype') || 'unnamed');
      room -= carried?.kind === 'foreign' ? carried.pdf.length : 0;
    }
  }
  return { pages, marks, unknown };
}

function signOf(page: PDFDict): PageSign | null {
  const [document, number] = textOf(page, PAGE_KEY).split(':');
  return document && number !== undefined ? { document, page: Number(number) } : null;
}
