/**
 * How loud a recording is, after ITU-R BS.1770-4: one channel, K-weighted, gated. Samples are −1…1, loudness is in LUFS (which the standard calls LKFS).
 *
 * The standard prints its two filters for 48 kHz only. Here they are made for any rate from the analogue filters behind them, by the bilinear transform;
 * the constants are those of B. De Man, "Evaluation of Implementations of the EBU R128 Loudness Measurement" (AES 145, 2018), which give the printed
 * coefficients at 48 kHz.
 */

/** A filter of second order, its first coefficient below the line brought to 1. */
interface Biquad {
  readonly b: readonly [number, number, number];
  readonly a: readonly [number, number];
}

/** The head's effect: a shelf that lifts what is high by 4 dB. */
export function shelf(rate: number): Biquad {
  const k = Math.tan((Math.PI * 1681.974450955533) / rate);
  const q = 0.7071752369554196;
  const vh = 10 ** (3.999843853973347 / 20);
  const vb = vh ** 0.4996667741545416;
  const a0 = 1 + k / q + k * k;
  return {
    b: [(vh + (vb * k) / q + k * k) / a0, (2 * (k * k - vh)) / a0, (vh - (vb * k) / q + k * k) / a0],
    a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0],
  };
}

/** What is too low to be loud goes. */
export function highPass(rate: number): Biquad {
  const k = Math.tan((Math.PI * 38.13547087602444) / rate);
  const q = 0.5003270373238773;
  const a0 = 1 + k / q + k * k;
  return { b: [1, -2, 1], a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] };
}

/** Blocks of 400 ms begin every 100 ms. */
const HOPS_A_SECOND = 10;
const HOPS_A_BLOCK = 4;
const ABSOLUTE_GATE = -70;
const RELATIVE_GATE = -10;

/** Loudness of a mean square of weighted samples. */
export const loudnessOf = (meanSquare: number): number =>
  meanSquare > 0 ? -0.691 + 10 * Math.log10(meanSquare) : Number.NEGATIVE_INFINITY;
const meanSquareOf = (lufs: number): number => 10 ** ((lufs + 0.691) / 10);

/** The mean squares of K-weighted samples, one for each 100 ms, a part at a time; what is left at the end is left out. */
export class WeightedHops {
  readonly #one: Biquad;
  readonly #two: Biquad;
  readonly #hop: number;
  #hops = new Float64Array(64);
  #n = 0;
  #sum = 0;
  #filled = 0;
  // Both filters in their transposed second form: two memories each.
  #p1 = 0;
  #p2 = 0;
  #r1 = 0;
  #r2 = 0;

  constructor(rate: number) {
    this.#one = shelf(rate);
    this.#two = highPass(rate);
    this.#hop = Math.round(rate / HOPS_A_SECOND);
  }

  push(samples: Float32Array): void {
    const { b: b1, a: a1 } = this.#one;
    const { a: a2, b: b2 } = this.#two;
    let [p1, p2, r1, r2] = [this.#p1, this.#p2, this.#r1, this.#r2];
    for (let i = 0; i < samples.length; i++) {
      const x = samples[i]!;
      const y = b1[0] * x + p1;
      p1 = b1[1] * x - a1[0] * y + p2;
      p2 = b1[2] * x - a1[1] * y;
      const z = b2[0] * y + r1;
      r1 = b2[1] * y - a2[0] * z + r2;
      r2 = b2[2] * y - a2[1] * z;
      this.#sum += z * z;
      if (++this.#filled === this.#hop) this.#keep();
    }
    this.#p1 = p1;
    this.#p2 = p2;
    this.#r1 = r1;
    this.#r2 = r2;
  }

  #keep(): void {
    if (this.#n === this.#hops.length) {
      const more = new Float64Array(2 * this.#n);
      more.set(this.#hops);
      this.#hops = more;
    }
    this.#hops[this.#n++] = this.#sum / this.#hop;
    this.#sum = 0;
    this.#filled = 0;
  }

  get all(): Float64Array {
    return this.#hops.subarray(0, this.#n);
  }
}

/** The same of samples that are all there. */
export function weightedHops(samples: Float32Array, rate: number): Float64Array {
  const hops = new WeightedHops(rate);
  hops.push(samples);
  return hops.all;
}

/** Integrated loudness in LUFS of weighted hops; null: it is shorter than a block, or nothing in it passes the gates. */
export function gatedLoudness(hops: Float64Array): number | null {
  const blocks: number[] = [];
  for (let i = 0; i + HOPS_A_BLOCK <= hops.length; i++) {
    let sum = 0;
    for (let j = 0; j < HOPS_A_BLOCK; j++) sum += hops[i + j]!;
    blocks.push(sum / HOPS_A_BLOCK);
  }
  const heard = blocks.filter((b) => b > meanSquareOf(ABSOLUTE_GATE));
  if (heard.length === 0) return null;
  const gate = meanOf(heard) * 10 ** (RELATIVE_GATE / 10);
  return loudnessOf(meanOf(heard.filter((b) => b > gate)));
}

const meanOf = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** The same of samples. */
export const integratedLoudness = (samples: Float32Array, rate: number): number | null =>
  gatedLoudness(weightedHops(samples, rate));
