import type { Box } from '../geometry/box.ts';
import type { DocumentId } from '../ids/id.ts';
import { isMarginMark, type MarginMark, type Mark } from '../marks/mark.ts';
import { leadPoint } from '../marks/place.ts';
import { findQuote, quoteOf } from '../passage/quote.ts';
import { caretAfter, caretBefore, wordAt } from '../passage/select.ts';
import { bandsOver, lineOfWord, type PageText, type WordRange } from '../passage/text-layer.ts';
import { wordsIn } from '../wording/edits.ts';
import { type Alignment, align, type WordAt } from './align.ts';
import type { PageAt } from './match-pages.ts';

/** A page of a hand-in: which document shows it, and its words. */
export interface PageOf {
  readonly document: DocumentId;
  /** Counted from 0 in its document. */
  readonly page: number;
  readonly text: PageText;
}

/**
 * What has become of a mark's place in a later hand-in. `still`: the words it is about stand as they did; `changed`: they are others; `taken`: they are what
 * the suggestion said; `gone`: they are not there any more, nor anything in their place; `unknown`: it stands at a spot or a box, which may be about a drawing, and no words there are others.
 */
export type Became = 'still' | 'changed' | 'taken' | 'gone' | 'unknown';

export interface Carried {
  readonly mark: MarginMark;
  readonly became: Became;
  /** The mark at its place now; null: its place is gone. */
  readonly now: MarginMark | null;
  /** Words there were, and what stands there now; empty: none. */
  readonly was: string;
  readonly is: string;
}

/** So near, in points, words are what a spot is about. */
const SPOT_REACH = 60;

/** Carries the notes and suggestions of an earlier hand-in over to a later one: each to where its words stand now. */
export function carryMarks(
  marks: readonly Mark[],
  before: readonly PageOf[],
  after: readonly PageOf[],
): Carried[] {
  const alignment = align(
    before.map((p) => p.text),
    after.map((p) => p.text),
  );
  const at = new Map(before.map((p, i) => [`${p.document}/${p.page}`, i]));
  return marks.filter(isMarginMark).map((mark) => {
    const page = at.get(`${mark.document}/${mark.page}`);
    if (page === undefined || mark.place.on === 'moment')
      return { mark, became: 'unknown', now: null, was: '', is: '' };
    return carryOne(mark, page, { before, after, alignment });
  });
}

interface Both {
  readonly before: readonly PageOf[];
  readonly after: readonly PageOf[];
  readonly alignment: Alignment;
}

function carryOne(mark: MarginMark, page: PageAt, both: Both): Carried {
  const { text } = both.before[page]!;
  const about = wordsOf(mark, text);
  if (!about) return bySpot(mark, page, both);
  const words = Array.from({ length: about.to - about.from + 1 }, (_, i) => about.from + i);
  const was = words.map((w) => text.words[w]!.text).join(' ');
  const here = words.flatMap((w) => both.alignment.now(page, w) ?? []);
  const whole = here.length === words.length && oneRun(here);
  const is = whole ? was : wordsNow(words, page, both);
  const taken = suggestionTaken(mark, about, page, both);
  const range = spanOf(
    here,
    words.flatMap((w) => both.alignment.instead(page, w)),
  );
  if (!range) {
    const moved = elsewhere(mark, both);
    if (moved) return { mark, became: 'still', now: moved, was, is: was };
    return { mark, became: mark.kind === 'cut' ? 'taken' : 'gone', now: null, was, is: '' };
  }
  const now = placed(mark, range, both, { page, about });
  if (taken) return { mark, became: 'taken', now, was, is };
  if (!whole) return { mark, became: 'changed', now, was, is };
  // A spot or a box may be about a drawing beside its words: that they stand as they did says nothing of it.
  const onWords = mark.place.on === 'passage' || mark.place.on === 'caret';
  return { mark, became: onWords ? 'still' : 'unknown', now, was, is };
}

/** The words a mark is about: those it quotes, those round its caret, or the line beside its spot. Null: there are none. */
function wordsOf(mark: MarginMark, text: PageText): WordRange | null {
  const { place } = mark;
  if (place.on === 'passage' || place.on === 'caret') {
    const found = findQuote(text, place.quote);
    return found.ok ? found.range : null;
  }
  const word = wordAt(text, leadPoint(mark), SPOT_REACH);
  const line = word === null ? undefined : lineOfWord(text, word);
  return line ? { from: line.from, to: line.to - 1 } : null;
}

/** Words that follow one another on one page. */
const oneRun = (words: readonly WordAt[]): boolean =>
  words.every((w, i) => i === 0 || (w.page === words[i - 1]!.page && w.word === words[i - 1]!.word + 1));

/** What stands there now: the words that stayed, and those that came in place of others. */
function wordsNow(words: readonly number[], page: PageAt, { after, alignment }: Both): string {
  const seen = new Set<string>();
  const out: string[] = [];
  for (const word of words) {
    const now = alignment.now(page, word);
    for (const w of now ? [now] : alignment.instead(page, word)) {
      const key = `${w.page}/${w.word}`;
      if (seen.has(key)) continue;
      seen.add(key);
      out.push(after[w.page]!.text.words[w.word]!.text);
    }
  }
  return out.join(' ');
}

/** The words from first to last on the page where most of them stand: of those that stayed, else of those that came. */
function spanOf(
  stayed: readonly WordAt[],
  came: readonly WordAt[],
): { page: PageAt; range: WordRange } | null {
  const some = stayed.length ? stayed : came;
  if (some.length === 0) return null;
  const counts = new Map<PageAt, number>();
  for (const { page } of some) counts.set(page, (counts.get(page) ?? 0) + 1);
  const [page] = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a));
  const words = [...stayed, ...came].filter((w) => w.page === page).map((w) => w.word);
  return {
    page,
    range: { from: words.reduce((a, b) => Math.min(a, b)), to: words.reduce((a, b) => Math.max(a, b)) },
  };
}

/** Whether the words now are what a suggestion said. */
function suggestionTaken(mark: MarginMark, about: WordRange, page: PageAt, both: Both): boolean {
  const { alignment, after } = both;
  const text = (all: readonly WordAt[]) => all.map((w) => after[w.page]!.text.words[w.word]!.text).join(' ');
  const like = (a: string, b: string) => plain(a) === plain(b);
  switch (mark.kind) {
    case 'note':
      return false;
    case 'swap':
      return mark.words.trim() !== '' && like(text(alignment.instead(page, about.from)), mark.words);
    case 'cut': {
      const all = Array.from({ length: about.to - about.from + 1 }, (_, i) => about.from + i);
      return all.every((w) => !alignment.now(page, w) && alignment.instead(page, w).length === 0);
    }
    case 'add': {
      const word = alignment.now(page, mark.place.side === 'after' ? about.to : about.from);
      if (!word) return false;
      const n = wordsIn(mark.words).length;
      const from = mark.place.side === 'after' ? word.word + 1 : word.word - n;
      const there = after[word.page]!.text.words.slice(Math.max(0, from), from + n);
      return n > 0 && like(there.map((w) => w.text).join(' '), mark.words);
    }
  }
}

/** Letters and numbers alone, in lower case: a comma more is the same word. */
const plain = (words: string): string =>
  words
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/** A passage that was put somewhere else altogether: found by its words, on whatever page. */
function elsewhere(mark: MarginMark, { after }: Both): MarginMark | null {
  if (mark.place.on !== 'passage' || wordsIn(mark.place.quote.exact).length < 3) return null;
  for (const { document, page, text } of after) {
    const found = findQuote(text, mark.place.quote);
    if (found.ok) return atWords(mark, { document, page, text }, found.range);
  }
  return null;
}

/** The mark at words of a later page. */
function atWords(mark: MarginMark, { document, page, text }: PageOf, range: WordRange): MarginMark {
  const at = { document, page };
  const quote = quoteOf(text, range);
  switch (mark.kind) {
    case 'add':
      return {
        ...mark,
        ...at,
        place: mark.place.side === 'after' ? caretAfter(text, range.to) : caretBefore(text, range.from),
      };
    case 'cut':
    case 'swap':
      return { ...mark, ...at, place: { on: 'passage', bands: bandsOver(text, range), quote } };
    case 'note':
      return mark.place.on === 'passage'
        ? { ...mark, ...at, place: { on: 'passage', bands: bandsOver(text, range), quote } }
        : { ...mark, ...at };
  }
}

function placed(
  mark: MarginMark,
  { page, range }: { page: PageAt; range: WordRange },
  both: Both,
  from: { readonly page: PageAt; readonly about: WordRange },
): MarginMark {
  const there = both.after[page]!;
  const moved = atWords(mark, there, range);
  const { place } = moved;
  if (place.on !== 'spot' && place.on !== 'box') return moved;
  // A spot or a box keeps its distance to the words it stands beside.
  const old = boxOf(both.before[from.page]!.text, from.about);
  const now = boxOf(there.text, range);
  const [dx, dy] = [now[0] - old[0], now[1] - old[1]];
  return {
    ...moved,
    place:
      place.on === 'spot'
        ? { ...place, x: place.x + dx, y: place.y + dy }
        : {
            ...place,
            box: [place.box[0] + dx, place.box[1] + dy, place.box[2] + dx, place.box[3] + dy] as Box,
          },
  } as MarginMark;
}

const boxOf = (text: PageText, range: WordRange): Box => bandsOver(text, range)[0] ?? [0, 0, 0, 0];

/** No words are near: the same spot of the page that this one has become. */
function bySpot(mark: MarginMark, page: PageAt, { after, alignment }: Both): Carried {
  const to = alignment.pages[page] ?? null;
  const there = to === null ? undefined : after[to];
  const quoted = mark.place.on === 'passage' || mark.place.on === 'caret' ? mark.place.quote.exact : '';
  if (!there) return { mark, became: 'gone', now: null, was: quoted, is: '' };
  if (mark.place.on === 'passage' || mark.place.on === 'caret')
    return { mark, became: 'unknown', now: null, was: quoted, is: '' };
  return {
    mark,
    became: 'unknown',
    now: { ...mark, document: there.document, page: there.page },
    was: '',
    is: '',
  };
}
