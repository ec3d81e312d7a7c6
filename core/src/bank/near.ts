import type { Phrase, PhraseSaid } from './phrase.ts';
import { tokensOf } from './rank.ts';

/** So much of the words of two phrases must be the same (Jaccard) for them to be near doubles. */
const ALIKE = 0.75;
/** A word in more phrases than this finds nothing: “the” is in all of them. */
const COMMON = 250;

/** Two phrases that say the same, whatever their case, accents and signs. */
export const saysSame = (words: string): string => tokensOf(words).join(' ') || words.trim();

/**
 * Phrases that say nearly the same, as groups of two and more, the most used of each first. Compared are those that share a word which is not everywhere:
 * of thousands nobody waits.
 */
export function nearDoubles(phrases: readonly Phrase[]): Phrase[][] {
  // What was written by hand is called by words that say little of it.
  const sets = phrases.map((p) => new Set(p.ink ? [] : tokensOf(p.words)));
  const where = new Map<string, number[]>();
  sets.forEach((set, i) => {
    for (const token of set) {
      const there = where.get(token);
      if (there) there.push(i);
      else where.set(token, [i]);
    }
  });
  const parent = phrases.map((_, i) => i);
  const root = (i: number): number => {
    let at = i;
    while (parent[at] !== at) at = parent[at] = parent[parent[at]!]!;
    return at;
  };
  sets.forEach((set, i) => {
    const shared = new Map<number, number>();
    for (const token of set) {
      const there = where.get(token)!;
      // Of short phrases even common words tell.
      if (there.length > COMMON && set.size > 3) continue;
      for (const j of there) if (j > i) shared.set(j, 0);
    }
    for (const j of shared.keys()) {
      const other = sets[j]!;
      // However they agree, sets of so different sizes cannot be alike enough.
      if (Math.min(set.size, other.size) < ALIKE * Math.max(set.size, other.size)) continue;
      let both = 0;
      for (const token of set) if (other.has(token)) both++;
      if (both / (set.size + other.size - both) >= ALIKE) parent[root(j)] = root(i);
    }
  });
  const groups = new Map<number, Phrase[]>();
  phrases.forEach((p, i) => {
    if (sets[i]!.size === 0) return;
    const at = root(i);
    groups.set(at, [...(groups.get(at) ?? []), p]);
  });
  return [...groups.values()]
    .filter((group) => group.length > 1)
    .map((group) => group.sort((a, b) => b.uses - a.uses));
}

type Saying = Pick<PhraseSaid, 'words'> & { readonly ink?: PhraseSaid['ink'] };
/** What a phrase says: its words, or what was written by hand. */
const says = ({ words, ink }: Saying): string => (ink ? JSON.stringify(ink) : saysSame(words));

/** Of phrases that come in those which say nothing that is in the bank already, each once; and how many were left away. */
export function withoutDoubles<T extends Saying>(
  bank: readonly Saying[],
  coming: readonly T[],
): { readonly fresh: T[]; readonly doubles: number } {
  const known = new Set(bank.map(says));
  const fresh = coming.filter((p) => {
    const said = says(p);
    if (known.has(said)) return false;
    known.add(said);
    return true;
  });
  return { fresh, doubles: coming.length - fresh.length };
}
