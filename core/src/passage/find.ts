import { type PageText, pageString, type WordRange } from './text-layer.ts';

/** One letter without its accents and in lower case; always as long as it was, so that places stay the same. */
function plainLetter(letter: string): string {
  const plain = letter.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase();
  return plain.length === letter.length ? plain : letter;
}

const plain = (text: string): string => [...text].map(plainLetter).join('');

/** More than this on one page is not looked for. */
const MOST = 500;

/**
 * Where words stand on a page, in reading order: as ranges of whole words, whatever their case and accents. Several spaces in
 * what is looked for count as one, since the page's string knows no others.
 */
export function findWords(text: PageText, wanted: string): WordRange[] {
  const needle = plain(wanted.trim().replace(/\s+/g, ' '));
  if (needle === '') return [];
  const whole = plain(pageString(text));
  const starts: number[] = [];
  let at = 0;
  for (const word of text.words) {
    starts.push(at);
    at += word.text.length + 1;
  }
  const wordAt = (place: number): number => {
    let low = 0;
    let high = starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (starts[middle]! <= place) low = middle;
      else high = middle - 1;
    }
    return low;
  };
  const out: WordRange[] = [];
  for (let i = whole.indexOf(needle); i >= 0 && out.length < MOST; i = whole.indexOf(needle, i + 1)) {
    const range = { from: wordAt(i), to: wordAt(i + needle.length - 1) };
    // Twice in one word is found once.
    if (out.at(-1)?.from !== range.from || out.at(-1)?.to !== range.to) out.push(range);
  }
  return out;
}
