import type { PageText } from '../passage/text-layer.ts';
import { smallestEdits, type WordEdit } from '../wording/edits.ts';
import { matchPages, type PageAt } from './match-pages.ts';

/** A word by its page among all pages of a hand-in, and its place there. */
export interface WordAt {
  readonly page: PageAt;
  readonly word: number;
}

/** All words of a hand-in, page after page. */
interface Flat {
  readonly texts: readonly string[];
  readonly at: readonly WordAt[];
  /** Where each page begins. */
  readonly starts: readonly number[];
}

function flat(pages: readonly PageText[]): Flat {
  const texts: string[] = [];
  const at: WordAt[] = [];
  const starts: number[] = [];
  for (const [page, { words }] of pages.entries()) {
    starts.push(texts.length);
    for (const [word, { text }] of words.entries()) {
      texts.push(text);
      at.push({ page, word });
    }
  }
  return { texts, at, starts };
}

/** How the words of an earlier hand-in stand in a later one. */
export interface Alignment {
  /** Which page each page has become; null: none. */
  readonly pages: readonly (PageAt | null)[];
  /** Where a word stands now; null: it went. */
  now(page: PageAt, word: number): WordAt | null;
  /** What came in place of a word that went, in the order of reading; empty: nothing did. */
  instead(page: PageAt, word: number): readonly WordAt[];
  readonly edits: readonly AlignedEdit[];
}

/** One change from the earlier to the later: words that went, words that came, or one for the other. */
export interface AlignedEdit {
  readonly went: readonly WordAt[];
  readonly came: readonly WordAt[];
  /** The word of the later one that stands before it; null: it is the first. */
  readonly behind: WordAt | null;
}

/**
 * Aligns two hand-ins word by word, all their pages as one text: text that flowed on to the next page is found there. Where they share too little for that
 * (see `MOST_CHANGED`), page against page.
 */
export function align(before: readonly PageText[], after: readonly PageText[]): Alignment {
  const [a, b] = [flat(before), flat(after)];
  const pages = matchPages(before, after);
  const edits = editsOf(a, b, before, after, pages);
  const now = new Array<WordAt | null>(a.texts.length).fill(null);
  const came = new Map<number, readonly WordAt[]>();
  const out: AlignedEdit[] = [];
  // What lies between two edits stays, word for word.
  let [x, y] = [0, 0];
  const stay = (until: number) => {
    for (; x < until; x++, y++) now[x] = b.at[y] ?? null;
  };
  for (const e of edits) {
    const from = e.edit === 'add' ? e.after + 1 : e.from;
    stay(from);
    const goes = e.edit === 'add' ? 0 : e.to - e.from + 1;
    const comes = e.edit === 'cut' ? 0 : e.words.length;
    const arrived = b.at.slice(y, y + comes);
    for (let i = from; i < from + goes; i++) came.set(i, arrived);
    out.push({ went: a.at.slice(from, from + goes), came: arrived, behind: b.at[y - 1] ?? null });
    x += goes;
    y += comes;
  }
  stay(a.texts.length);
  const index = (page: PageAt, word: number) => (a.starts[page] ?? 0) + word;
  return {
    pages,
    now: (page, word) => now[index(page, word)] ?? null,
    instead: (page, word) => came.get(index(page, word)) ?? [],
    edits: out,
  };
}

function editsOf(
  a: Flat,
  b: Flat,
  before: readonly PageText[],
  after: readonly PageText[],
  pages: readonly (PageAt | null)[],
): WordEdit[] {
  const whole = smallestEdits(a.texts, b.texts);
  if (whole.length !== 1 || whole[0]!.edit !== 'swap') return whole;
  // One swap of nearly all: the two were too different to be walked through as one. Pages one by one, as long as they are in order.
  const out: WordEdit[] = [];
  let [i, j] = [0, 0];
  const upTo = (p: PageAt, q: PageAt) => {
    const went = [a.starts[i] ?? a.texts.length, a.starts[p] ?? a.texts.length] as const;
    const words = b.texts.slice(b.starts[j] ?? b.texts.length, b.starts[q] ?? b.texts.length);
    const [from, end] = went;
    if (end > from)
      out.push(
        words.length ? { edit: 'swap', from, to: end - 1, words } : { edit: 'cut', from, to: end - 1 },
      );
    else if (words.length) out.push({ edit: 'add', after: from - 1, words });
    [i, j] = [p, q];
  };
  for (const [p, q] of pages.entries()) {
    if (q === null || q < j) continue;
    upTo(p, q);
    const start = a.starts[p]!;
    for (const e of smallestEdits(textsOf(before[p]!), textsOf(after[q]!)))
      out.push(
        e.edit === 'add'
          ? { ...e, after: e.after + start }
          : { ...e, from: e.from + start, to: e.to + start },
      );
    [i, j] = [p + 1, q + 1];
  }
  upTo(before.length, after.length);
  return out;
}

const textsOf = (page: PageText): string[] => page.words.map((w) => w.text);
