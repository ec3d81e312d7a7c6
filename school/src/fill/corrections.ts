import {
  bandsOver,
  type DocumentId,
  findQuote,
  type Mark,
  type PageText,
  quoteOf,
  repetitionsOf,
  type WordRange,
} from '@jotmark/core';

interface Correction {
  readonly kind: 'swap' | 'cut' | 'add';
  /** Words of an answer. Of an addition those after which it comes. */
  readonly at: string;
  readonly words?: string;
  readonly reason?: string;
}

/** What this teacher puts right in what is typed. */
const CORRECTIONS: readonly Correction[] = [
  { kind: 'swap', at: 'becase', words: 'because', reason: 'Say it slowly: be-cause.' },
  { kind: 'swap', at: 'somewere', words: 'somewhere', reason: 'Where you can go has an h.' },
  { kind: 'swap', at: 'easyer', words: 'easier', reason: 'The y becomes an i.' },
  { kind: 'swap', at: 'its steep', words: 'it’s steep', reason: 'It is: then with an apostrophe.' },
  { kind: 'swap', at: 'its not', words: 'it’s not', reason: 'It is: then with an apostrophe.' },
  { kind: 'swap', at: 'were there', words: 'where there', reason: 'A place: with an h.' },
  { kind: 'swap', at: 'that way to.', words: 'that way too.' },
  { kind: 'cut', at: 'maybe', reason: 'You know it: the map says so.' },
  { kind: 'cut', at: 'always', reason: 'Once is enough to decide.' },
  { kind: 'add', at: '180 m', words: 'above the sea' },
  { kind: 'add', at: 'the ruler', words: 'and measured along the path' },
];

/** What is said once and stands at every place where the word does. */
const PATTERN = {
  word: 'lines',
  least: 3,
  words: 'Which lines? Give them their name the first time: **contour lines**.',
} as const;

type Base = (
  page: number,
  colour: Mark['colour'],
  focus: string | null,
) => Pick<Mark, 'v' | 'id' | 'document' | 'page' | 'colour' | 'focus' | 'madeAt'>;

const find = (text: PageText, exact: string): WordRange | null => {
  const found = findQuote(text, { exact, prefix: '', suffix: '', start: 0, end: 0 });
  return found.ok ? found.range : null;
};

/** Changes of wording in one answer. */
export function correctionsFor(base: Base, page: number, text: PageText, answer: string): Mark[] {
  const marks: Mark[] = [];
  for (const { kind, at, words = '', reason } of CORRECTIONS) {
    const range = answer.includes(at) ? find(text, at) : null;
    if (!range) continue;
    const bands = bandsOver(text, range);
    const quote = quoteOf(text, range);
    const why = reason ? { reason } : {};
    const about = { ...base(page, 'lake', 'wording'), ...why };
    if (kind === 'add') {
      const [, top, x, bottom] = bands.at(-1)!;
      marks.push({ ...about, kind, words, place: { on: 'caret', side: 'after', x, top, bottom, quote } });
    } else {
      const place = { on: 'passage' as const, bands, quote };
      marks.push(kind === 'cut' ? { ...about, kind, place } : { ...about, kind, words, place });
    }
  }
  return marks;
}

/** One note for a word that is too short each time, in all answers of a copy; null where it stands too seldom. */
export function patternIn(
  base: Base,
  document: DocumentId,
  answers: readonly { readonly page: number; readonly text: PageText; readonly answer: string }[],
): Mark | null {
  const own = answers.flatMap(({ page, text, answer }) => {
    const range = find(text, answer.replace(/\s+/g, ' '));
    if (!range) return [];
    const whole = quoteOf(text, range);
    return repetitionsOf(PATTERN.word, [{ document, page, text }]).filter(
      ({ place }) =>
        place.on === 'passage' &&
        place.quote.start >= whole.start &&
        place.quote.end <= whole.end &&
        !/contour\s*$/.test(place.quote.prefix),
    );
  });
  const [first, ...also] = own;
  if (!first || own.length < PATTERN.least) return null;
  const { page, place } = first;
  return { ...base(page, 'lake', 'wording'), kind: 'note', words: PATTERN.words, place, also };
}
