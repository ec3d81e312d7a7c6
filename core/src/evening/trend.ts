/** A straight line through scores in the order they were given, by least squares: `at + slope × position`. */
export interface Trend {
  readonly slope: number;
  readonly at: number;
  /** How likely a slope at least as steep, either way, is by chance; null with fewer than three scores. */
  readonly chance: number | null;
}

/** So many orders are tried where not all can be. */
export const SHUFFLES = 1999;
/** Up to so many scores every order is tried: 8! = 40,320 are done in no time. */
const ALL_ORDERS = 8;

/** Least squares over positions 0, 1, 2 …; less than two scores have no slope. */
export function lineThrough(scores: readonly number[]): { readonly slope: number; readonly at: number } {
  const n = scores.length;
  if (n < 2) return { slope: 0, at: scores[0] ?? 0 };
  const middle = (n - 1) / 2;
  const mean = scores.reduce((a, b) => a + b, 0) / n;
  let over = 0;
  let under = 0;
  for (let i = 0; i < n; i++) {
    over += (i - middle) * (scores[i]! - mean);
    under += (i - middle) ** 2;
  }
  const slope = over / under;
  return { slope, at: mean - slope * middle };
}

/**
 * Whether scores drift in the order they were given. The chance is a permutation test (R. A. Fisher, The Design of Experiments, 1935): how often a random
 * order of the same scores has a slope at least as steep. Up to 8 scores all orders are tried, so it is exact; else (k + 1) / (shuffles + 1)
 * of random ones (B. Phipson and G. K. Smyth, 2010), the same for the same scores and seed.
 */
export function trendOf(scores: readonly number[], seed = 1): Trend {
  const { slope, at } = lineThrough(scores);
  return { slope, at, chance: scores.length < 3 ? null : chanceOf(scores, seed) };
}

function chanceOf(scores: readonly number[], seed: number): number {
  const n = scores.length;
  const middle = (n - 1) / 2;
  const lean = (values: ArrayLike<number>) => {
    let sum = 0;
    for (let i = 0; i < n; i++) sum += (i - middle) * values[i]!;
    return Math.abs(sum);
  };
  // Sums in another order may differ in their last bit and are the same all the same.
  const found = lean(scores) - 1e-9 * (1 + Math.max(...scores.map(Math.abs)) * n * n);
  if (n <= ALL_ORDERS) {
    let steep = 0;
    let all = 0;
    eachOrder([...scores], (order) => {
      all++;
      if (lean(order) >= found) steep++;
    });
    return steep / all;
  }
  const random = chanceFrom(seed);
  const order = Float64Array.from(scores);
  let steep = 0;
  for (let k = 0; k < SHUFFLES; k++) {
    for (let i = n - 1; i > 0; i--) {
      const j = Math.floor(random() * (i + 1));
      const kept = order[i]!;
      order[i] = order[j]!;
      order[j] = kept;
    }
    if (lean(order) >= found) steep++;
  }
  return (steep + 1) / (SHUFFLES + 1);
}

/** Every order once, made in place by exchanges (B. R. Heap, 1963). */
function eachOrder(items: number[], see: (order: readonly number[]) => void, n = items.length): void {
  if (n <= 1) return see(items);
  for (let i = 0; i < n; i++) {
    eachOrder(items, see, n - 1);
    const j = n % 2 === 0 ? i : 0;
    const kept = items[j]!;
    items[j] = items[n - 1]!;
    items[n - 1] = kept;
  }
}

/** Numbers from 0 up to 1 that look like chance and are the same for the same seed (G. Marsaglia's xorshift, 32 bits). */
export function chanceFrom(seed: number): () => number {
  let state = seed >>> 0 || 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state / 2 ** 32;
  };
}
