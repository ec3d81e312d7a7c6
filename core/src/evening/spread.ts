/** What a set of scores looks like; all in the unit of the scores. */
export interface Spread {
  readonly count: number;
  readonly mean: number;
  readonly median: number;
  readonly lower: number;
  readonly upper: number;
  readonly least: number;
  readonly most: number;
}

/** Null for none. Quartiles by linear interpolation between order statistics (R. J. Hyndman and Y. Fan, 1996, definition 7). */
export function spreadOf(scores: readonly number[]): Spread | null {
  if (scores.length === 0) return null;
  const sorted = [...scores].sort((a, b) => a - b);
  return {
    count: sorted.length,
    mean: sorted.reduce((a, b) => a + b, 0) / sorted.length,
    median: quantile(sorted, 0.5),
    lower: quantile(sorted, 0.25),
    upper: quantile(sorted, 0.75),
    least: sorted[0]!,
    most: sorted.at(-1)!,
  };
}

/** `sorted` is in order and not empty; `q` from 0 to 1. */
export function quantile(sorted: readonly number[], q: number): number {
  const at = (sorted.length - 1) * q;
  const low = Math.floor(at);
  const rest = at - low;
  return rest === 0 ? sorted[low]! : sorted[low]! + (sorted[low + 1]! - sorted[low]!) * rest;
}

/** Those that lie more than 1.5 of the middle half's width outside of it (J. W. Tukey, Exploratory Data Analysis, 1977). With fewer than five: none. */
export function outliersOf<T>(items: readonly T[], score: (item: T) => number): T[] {
  const spread = items.length < 5 ? null : spreadOf(items.map(score));
  if (!spread) return [];
  const reach = 1.5 * (spread.upper - spread.lower);
  return items.filter((i) => score(i) < spread.lower - reach || score(i) > spread.upper + reach);
}

/** How a question or a criterion works in a class. */
export interface HowItWorks {
  /** The mean share of its points that was earned, 0 to 1: low is hard. */
  readonly ease: number;
  /** How well it tells strong from weak: the correlation of its points with those of all the others, −1 to 1; null: nothing varies. */
  readonly tellsApart: number | null;
}

/** Each line is a copy, each column a question; all are scored. `most` is what each column can earn, above 0. */
export function howTheyWork(scores: readonly (readonly number[])[], most: readonly number[]): HowItWorks[] {
  const totals = scores.map((line) => line.reduce((a, b) => a + b, 0));
  return most.map((top, q) => {
    const own = scores.map((line) => line[q]!);
    const rest = totals.map((total, i) => total - own[i]!);
    const mean = own.length ? own.reduce((a, b) => a + b, 0) / own.length : 0;
    return { ease: mean / top, tellsApart: correlation(own, rest) };
  });
}

/** Pearson's product-moment correlation; null where one of them does not vary. */
export function correlation(a: readonly number[], b: readonly number[]): number | null {
  const n = a.length;
  if (n < 2) return null;
  const ma = a.reduce((x, y) => x + y, 0) / n;
  const mb = b.reduce((x, y) => x + y, 0) / n;
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < n; i++) {
    const da = a[i]! - ma;
    const db = b[i]! - mb;
    ab += da * db;
    aa += da * da;
    bb += db * db;
  }
  return aa === 0 || bb === 0 ? null : ab / Math.sqrt(aa * bb);
}
