/** Letters that Unicode does not take apart, and those that are written in two where a keyboard lacks them. */
const ALONE: Readonly<Record<string, string>> = {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  ł: 'l',
  đ: 'd',
  þ: 'th',
  ð: 'd',
  ı: 'i',
};
const IN_TWO: Readonly<Record<string, string>> = { ä: 'ae', ö: 'oe', ü: 'ue', å: 'aa', ø: 'oe' };

const spelt = (text: string, by: Readonly<Record<string, string>>): string =>
  [...text.normalize('NFC').toLowerCase()].map((c) => by[c] ?? c).join('');
/** Words of plain letters. */
const wordsOf = (text: string, by: Readonly<Record<string, string>>): string[] =>
  spelt(spelt(text, by), ALONE)
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[’'ʼ`]/g, '')
    .split(/[^\p{L}]+/u)
    .filter(Boolean);

interface Named {
  readonly given: string;
  readonly family: string;
}

/**
 * Whose file it is, told by the names of the file and of the folders it lies in: as an index into `students`; null: nobody's, or that of several.
 * All of a name counts more than a part of it, a longer name more than a shorter; a given or a family name alone will do where only one student has it.
 * Accents, order and separators do not matter, nor whether names are written in one word.
 */
export function whoseFile(path: string, students: readonly Named[]): number | null {
  const bare = path.replace(/\.[A-Za-z0-9]{1,5}$/, '');
  const there = new Set([...wordsOf(bare, {}), ...wordsOf(bare, IN_TWO)]);
  const scores = students.map(({ given, family }) =>
    Math.max(...[{}, IN_TWO].map((by) => score(there, wordsOf(given, by), wordsOf(family, by)))),
  );
  const best = Math.max(0, ...scores);
  if (best === 0) return null;
  const at = scores.indexOf(best);
  return scores.lastIndexOf(best) === at ? at : null;
}

/** Both names are worth more than any one of them. */
const BOTH = 1000;

function score(there: ReadonlySet<string>, given: readonly string[], family: readonly string[]): number {
  const letters = (words: readonly string[]) => words.join('').length;
  const all = (words: readonly string[]) => words.length > 0 && words.every((w) => there.has(w));
  const [g, f] = [given.join(''), family.join('')];
  if (g && f && (there.has(g + f) || there.has(f + g))) return BOTH + letters([...given, ...family]);
  if (all(given) && all(family)) return BOTH + letters([...given, ...family]);
  if (all(family) || (f && there.has(f))) return letters(family);
  if (all(given) || (g && there.has(g))) return letters(given);
  return 0;
}
