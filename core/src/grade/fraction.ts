/** A number as a fraction of whole numbers, so that shares and weights are exact. The lower part is above 0. */
export interface Fraction {
  readonly over: bigint;
  readonly under: bigint;
}

export const fraction = (over: number | bigint, under: number | bigint = 1n): Fraction => ({
  over: BigInt(over),
  under: BigInt(under),
});

export const plus = (a: Fraction, b: Fraction): Fraction => ({
  over: a.over * b.under + b.over * a.under,
  under: a.under * b.under,
});

export const times = (a: Fraction, b: Fraction): Fraction => ({
  over: a.over * b.over,
  under: a.under * b.under,
});

/** Which way a grade is rounded: to the nearest step (halves go up), always up, or always down. */
export type RoundingWay = 'nearest' | 'up' | 'down';

/** A fraction of at least 0 as a whole multiple of `step`, which is a whole number above 0. */
export function roundTo(value: Fraction, step: number, way: RoundingWay): number {
  const under = value.under * BigInt(step);
  const { over } = value;
  const down = over / under;
  const rest = over % under;
  const up = way === 'up' ? rest > 0n : way === 'nearest' && rest * 2n >= under;
  return Number(down + (up ? 1n : 0n)) * step;
}
