import type { DocumentId } from '../ids/id.ts';
import type { NotePlace } from '../marks/pattern.ts';
import { quoteOf } from './quote.ts';
import { bandsOver, type PageText } from './text-layer.ts';

/** A page with its words; null where they are not known. */
export interface ReadPage {
  readonly document: DocumentId;
  readonly page: number;
  readonly text: PageText | null;
}

/** A word without the signs round it and whatever its case: “Thier,” and “thier” are the same slip. Accents are spelling, and count. */
const bare = (word: string): string =>
  word
    .normalize('NFC')
    .toLowerCase()
    .replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '');

/**
 * Where the same words stand on these pages, each as a place of its own, in reading order; places that share a word are found once. Words of signs only are
 * nowhere the same.
 */
export function repetitionsOf(exact: string, pages: readonly ReadPage[]): NotePlace[] {
  const wanted = exact.split(/\s+/u).map(bare).filter(Boolean);
  if (wanted.length === 0) return [];
  return pages.flatMap(({ document, page, text }) => {
    if (!text) return [];
    const words = text.words.map((w) => bare(w.text));
    const out: NotePlace[] = [];
    for (let i = 0; i + wanted.length <= words.length; i++) {
      if (!wanted.every((w, k) => words[i + k] === w)) continue;
      const range = { from: i, to: i + wanted.length - 1 };
      out.push({
        document,
        page,
        place: { on: 'passage', bands: bandsOver(text, range), quote: quoteOf(text, range) },
      });
      i = range.to;
    }
    return out;
  });
}
