import type { PageText } from '../passage/text-layer.ts';

/** A page of a hand-in by its place among all its pages, counted from 0. */
export type PageAt = number;

/** Two pages without words can be the same photo or not: so much is said for it, where nothing speaks against. */
const WORDLESS = 0.3;
/** Less than this in common is not the same page. */
const LEAST = 0.15;

/** How many times each word stands on a page. */
function counted(page: PageText): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const { text } of page.words) counts.set(text, (counts.get(text) ?? 0) + 1);
  return counts;
}

/** How alike two pages are, 0 to 1: the words they share, of all they have (the Jaccard index of their multisets). */
function alike(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): number {
  if (a.size === 0 && b.size === 0) return WORDLESS;
  let [shared, all] = [0, 0];
  for (const [word, n] of a) {
    const m = b.get(word) ?? 0;
    shared += Math.min(n, m);
    all += Math.max(n, m);
  }
  for (const [word, m] of b) if (!a.has(word)) all += m;
  return all === 0 ? 0 : shared / all;
}

/**
 * Which page of a later hand-in each page of an earlier one has become; null: none. Pages stay in their order, so that one that was put in between, or left
 * out, moves the others along; among all such pairings the one whose pages are most alike. A page turned is the same page: its words are. Pages that were
 * put in another order are found afterwards, where they are clearly alike.
 */
export function matchPages(before: readonly PageText[], after: readonly PageText[]): (PageAt | null)[] {
  const [a, b] = [before.map(counted), after.map(counted)];
  const score = a.map((p) => b.map((q) => alike(p, q)));
  // The best of the first i pages against the first j: as for the longest common subsequence, with weights.
  const best = Array.from({ length: a.length + 1 }, () => new Float64Array(b.length + 1));
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++) {
      const s = score[i - 1]![j - 1]!;
      best[i]![j] = Math.max(best[i - 1]![j]!, best[i]![j - 1]!, s >= LEAST ? best[i - 1]![j - 1]! + s : 0);
    }
  const out: (PageAt | null)[] = a.map(() => null);
  const taken = new Set<PageAt>();
  for (let [i, j] = [a.length, b.length]; i > 0 && j > 0; ) {
    // Of equals the first: a file that lies there twice is the same file.
    if (best[i]![j] === best[i]![j - 1]) j--;
    else if (best[i]![j] === best[i - 1]![j]) i--;
    else {
      out[--i] = --j;
      taken.add(j);
    }
  }
  for (const [i, to] of out.entries()) {
    if (to !== null) continue;
    let found: PageAt | null = null;
    for (const [j, s] of score[i]!.entries())
      if (!taken.has(j) && s > 0.6 && (found === null || s > score[i]![found]!)) found = j;
    if (found === null) continue;
    out[i] = found;
    taken.add(found);
  }
  return out;
}
