/** Two teachers' words on the same copies. */
export interface Agreement {
  readonly pairs: number;
  /** The share on which both say exactly the same. */
  readonly same: number;
  /** Weighted kappa, 1 for full agreement, 0 for what chance would give; null where it says nothing (no pairs, or all in one category). */
  readonly kappa: number | null;
}

/**
 * Cohen's weighted kappa (J. Cohen, Psychological Bulletin 70, 1968) of two raters over categories in order, `0 … categories − 1`:
 * `1 − Σ w·observed / Σ w·expected`, where w grows with the distance: linearly, by its square, or (plain) not at all.
 */
export function agreementOf(
  pairs: readonly (readonly [number, number])[],
  categories: number,
  weights: 'plain' | 'linear' | 'square' = 'square',
): Agreement {
  const n = pairs.length;
  const same = pairs.filter(([a, b]) => a === b).length;
  if (n === 0) return { pairs: 0, same: 0, kappa: null };
  const first = new Array<number>(categories).fill(0);
  const second = new Array<number>(categories).fill(0);
  const away = (i: number, j: number) =>
    weights === 'plain' ? Number(i !== j) : weights === 'linear' ? Math.abs(i - j) : (i - j) ** 2;
  let observed = 0;
  for (const [a, b] of pairs) {
    first[a]!++;
    second[b]!++;
    observed += away(a, b);
  }
  let expected = 0;
  for (let i = 0; i < categories; i++)
    for (let j = 0; j < categories; j++) expected += (away(i, j) * first[i]! * second[j]!) / n;
  return { pairs: n, same: same / n, kappa: expected === 0 ? null : 1 - observed / expected };
}

/** Scores as categories for kappa: each score there is, in order. Gives how many there are, and each pair as two of them. */
export function asCategories(pairs: readonly (readonly [number, number])[]): {
  readonly categories: number;
  readonly pairs: readonly (readonly [number, number])[];
} {
  const all = [...new Set(pairs.flat())].sort((a, b) => a - b);
  const at = new Map(all.map((value, i) => [value, i]));
  return { categories: all.length, pairs: pairs.map(([a, b]) => [at.get(a)!, at.get(b)!]) };
}
