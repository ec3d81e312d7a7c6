import type { Box } from '../geometry/box.ts';
import { bandsOver, type PageText } from '../passage/text-layer.ts';
import type { RealName } from './blind.ts';

/** A part of a name shorter than this is too common to say whose it is. */
const SHORTEST = 2;
/** A line with no more words than this is a heading, a footer or a signature, not a sentence. */
const SHORT_LINE = 4;

const FOR_NAME = /^(name|names|by|author|written|student|pupil)$/;

/**
 * Where the names of students stand on a page, as bands in page space, so that a copy that is marked blind can be covered there. Given and family name beside
 * each other are a name wherever they stand, in either order. One of them alone is a name where it is written with a capital and stands in a short line, behind a
 * word that asks for a name, or within a sentence: at its beginning "Will" and "May" are words like any other. A scan has no words: nothing is found on it.
 */
export function namesOnPage(text: PageText, students: readonly RealName[]): Box[] {
  const parts = students.map((s) => new Set([...partsOf(s.given), ...partsOf(s.family)]));
  const words = text.words.map((w) => w.text);
  const read = words.map((w) => partsOf(w).join(''));
  const isPart = words.map((word) => {
    const pieces = partsOf(word);
    return parts.some((p) => (pieces.length > 0 && pieces.every((piece) => p.has(piece))) || joins(p, word));
  });
  const bands: Box[] = [];
  for (let from = 0; from < words.length; from++) {
    if (!isPart[from]) continue;
    let to = from;
    while (to + 1 < words.length && isPart[to + 1]) to++;
    const several = new Set(read.slice(from, to + 1)).size > 1;
    const whole = parts.some((p) => joins(p, words[from]!));
    if (several || whole || standsAsName(text, from, words, read))
      bands.push(...bandsOver(text, { from, to }));
    from = to;
  }
  return bands;
}

/** The words of a name, small and without accents: "María-José" is "maria" and "jose". */
function partsOf(name: string): string[] {
  return name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .filter((part) => part.length >= SHORTEST);
}

/** Whether a word holds two parts of a name at once, as addresses and names of files do: "ada.finch", "AdaFinch7". */
function joins(parts: ReadonlySet<string>, word: string): boolean {
  const letters = word
    .normalize('NFKD')
    .replace(/[^\p{L}]/gu, '')
    .toLowerCase();
  const held = [...parts].filter((p) => p.length > SHORTEST && letters.includes(p));
  return held.some((a) => held.some((b) => a !== b && letters.replace(a, '').includes(b)));
}

function standsAsName(
  text: PageText,
  at: number,
  words: readonly string[],
  read: readonly string[],
): boolean {
  const word = words[at]!;
  const first = /\p{L}/u.exec(word)?.[0] ?? '';
  // Scripts without capitals have no sign of a name: there every such word may be one.
  if (first.toLowerCase() !== first.toUpperCase() && first !== first.toUpperCase()) return false;
  const line = text.lines.find((l) => at >= l.from && at < l.to);
  if (!line || line.to - line.from <= SHORT_LINE) return true;
  const before = at > line.from ? words[at - 1]! : null;
  if (before === null) return false;
  return FOR_NAME.test(read[at - 1]!) || !/[.!?:]["”’)]?$/u.test(before);
}
