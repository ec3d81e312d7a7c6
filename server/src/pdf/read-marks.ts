import type { PDFDict, PDFDocument } from '@cantoo/pdf-lib';
import { type Digest, digestOf, type Mark, type PageFrame, type PageText } from '@jotmark/core';
import { nameOf, textOf } from './dict.ts';
import { PAGE_KEY } from './kept-mark.ts';
import { PageReader } from './page-reader.ts';
import type { PageSign } from './page-sign.ts';

export interface FoundMarks {
  /** Of every page of the file; null where it says nothing. */
  readonly pages: readonly (PageSign | null)[];
  /** Marks by page of the file; their document is not known yet. */
  readonly marks: readonly Mark[];
  /** Kinds of annotations that can neither be read nor carried along, each as often as it is there. */
  readonly unknown: readonly string[];
  /** Annotations and answers beyond what is looked at. */
  readonly unread: number;
  /** Bytes that the marks name, by their SHA-256. */
  readonly bytes: ReadonlyMap<Digest, Uint8Array>;
}

const MOST = 5000;
/** Bytes that all carried annotations of a file have together. */
const MOST_CARRIED_IN_ALL = 3_000_000;

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
  let unread = 0;
  const pages: (PageSign | null)[] = [];
  const bytes = new Map<Digest, Uint8Array>();
  let room = MOST_CARRIED_IN_ALL;
  const keep = (some: Uint8Array): Digest => {
    const digest = digestOf(some);
    if (!bytes.has(digest)) room -= some.length;
    bytes.set(digest, some);
    return digest;
  };
  for (const [index, page] of pdf.getPages().entries()) {
    const frame = frames[index];
    const annots = page.node.Annots();
    const sign = signOf(page.node);
    pages.push(sign);
    if (!frame || !annots) continue;
    const reader = new PageReader(frame, text[index] ?? { words: [], lines: [] }, index, sign, annots, keep);
    const found = reader.read(MOST - marks.length);
    for (const mark of found.marks) marks.push(mark);
    unread += found.unread;
    for (const other of found.others) {
      const carried = room > 0 && marks.length < MOST ? await reader.carry(pdf, other) : null;
      if (carried) marks.push(carried);
      else unknown.push(nameOf(other.dict, 'Subtype') || 'unnamed');
    }
  }
  return { pages, marks, unknown, unread, bytes };
}

function signOf(page: PDFDict): PageSign | null {
  const [document, number] = textOf(page, PAGE_KEY).split(':');
  return document && number !== undefined ? { document, page: Number(number) } : null;
}
