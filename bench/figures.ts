export interface Figure {
  readonly what: string;
  /** Milliseconds. */
  readonly ours: number;
  readonly baseline: number | null;
  readonly against: string;
  /** Of paired rounds: the median of their ratios. Without it the ratio is that of the medians. */
  readonly ratio?: number;
  /** Most that `ours / baseline` may be; without a baseline, most milliseconds. Null: it is only to be looked at. */
  readonly limit: number | null;
  /** What a figure without a baseline is counted in; milliseconds without it. */
  readonly unit?: string;
}

/** A figure that has no baseline: at most so much. */
export const atMost = (what: string, ours: number, limit: number, unit = 'ms'): Figure => ({
  what,
  ours,
  baseline: null,
  against: '',
  limit,
  unit,
});

/** A figure that other work on the machine falsifies, so that no limit is set. */
export const toLookAt = (what: string, ours: number): Figure => ({
  ...atMost(what, ours, 0),
  limit: null,
});

export function median(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[sorted.length >> 1]!;
}

/** Runs both in turn, so that a busy moment of the machine meets them alike; gives their medians, and the median of the rounds' ratios. */
export async function inTurn(
  rounds: number,
  ours: () => Promise<number>,
  baseline: () => Promise<number>,
): Promise<[ours: number, baseline: number, ratio: number]> {
  const a: number[] = [];
  const b: number[] = [];
  for (let i = 0; i < rounds; i++) {
    a.push(await ours());
    b.push(await baseline());
  }
  return [median(a), median(b), median(a.map((ours, i) => ours / b[i]!))];
}

export async function timed(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

export function report(figures: readonly Figure[]): boolean {
  console.log('\n| what | ours | baseline | ratio | limit | |\n|---|---|---|---|---|---|');
  let good = true;
  for (const f of figures) {
    const value = f.ratio ?? (f.baseline === null ? f.ours : f.ours / f.baseline);
    const fine = f.limit === null || value <= f.limit;
    good &&= fine;
    const unit = f.unit ?? 'ms';
    const ms = (n: number) => `${n < 10 ? n.toFixed(2) : n.toFixed(0)} ${unit}`.trim();
    console.log(
      `| ${f.what} | ${ms(f.ours)} | ${f.baseline === null ? '' : `${ms(f.baseline)} ${f.against}`} | ${f.baseline === null ? '' : value.toFixed(2)} | ${f.limit === null ? '' : `${f.limit}${f.baseline === null ? ` ${unit}` : ''}`} | ${f.limit === null ? '' : fine ? 'kept' : 'MISSED'} |`,
    );
  }
  return good;
}
