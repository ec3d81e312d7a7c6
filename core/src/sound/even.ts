import { gatedLoudness, loudnessOf } from './loudness.ts';
import { HOP, measured, type VoiceMeter } from './meter.ts';
import { VOICE_RATE } from './resample.ts';

/** What every recording is brought to, in LUFS: as loud as speech on a telephone or a tablet wants to be. */
export const TARGET_LUFS = -16;
/** The encoder may overshoot by up to a decibel. */
const CEILING = 10 ** (-2 / 20);
/** A whisper is lifted by at most this, in dB: above it one would hear the room. */
const MOST_LIFT = 36;
/** How far a quiet part is lifted and a loud one lowered before, in dB. */
const MOST_EVENING = 9;
/** Parts this far below the whole, in LU, are pauses: what stands in them is not lifted. */
const PAUSE = 14;
/** How slowly the hand on the fader moves, in hops of 100 ms. */
const SLOWNESS = 12;
/** The limiter looks ahead, and lets go, by this, in samples: 5 ms. */
const LOOK_AHEAD = VOICE_RATE / 200;
/** Gains of the limiter are counted in such parts of one. */
const FINE = 2 ** 20;

/** How a recording is made even: a gain for each hop of all that was recorded. */
export interface Fader {
  readonly gains: Float64Array;
  /** In LUFS, as it is then; null where nothing is loud enough to be measured, and nothing is changed. */
  readonly lufs: number | null;
}

/**
 * The gains that make a recording even and bring it to `TARGET_LUFS`: whoever turns away from the microphone is still heard. Found from what was measured while it was
 * recorded; only where a peak meets the limiter are samples looked at again, for what it takes away. Of the samples from `from` up to `to` alone.
 */
export function faderFor(samples: Float32Array, meter: VoiceMeter, from: number, to: number): Fader {
  const first = Math.floor(from / HOP);
  const last = Math.min(meter.hops.length, Math.ceil(to / HOP));
  const whole = gatedLoudness(meter.hops.subarray(first, last));
  const gains = new Float64Array(meter.hops.length).fill(1);
  if (whole === null) return { gains, lufs: null };
  gains.set(curveOf(meter.hops.subarray(first, last), whole), first);
  let lufs = loudnessWith(samples, meter, gains, first, last) ?? whole;
  let lifted = 0;
  // The limiter takes some of it away again: a second time round it is near enough.
  for (let round = 0; round < 3 && Math.abs(TARGET_LUFS - lufs) > 0.2; round++) {
    const lift = Math.min(TARGET_LUFS - lufs, MOST_LIFT - lifted);
    if (Math.abs(lift) < 0.1) break;
    lifted += lift;
    for (let h = first; h < last; h++) gains[h]! *= 10 ** (lift / 20);
    lufs = loudnessWith(samples, meter, gains, first, last) ?? lufs;
  }
  return { gains, lufs };
}

/** The loudness with these gains and the limiter behind them. */
function loudnessWith(
  samples: Float32Array,
  { hops, peaks }: VoiceMeter,
  gains: Float64Array,
  first: number,
  last: number,
): number | null {
  const after = hops.slice(first, last);
  for (let h = first; h < last; h++) {
    const gain = gains[h]!;
    after[h - first]! *= gain * gain;
    if (peaks[h]! * gain > CEILING) after[h - first]! *= leftByLimiter(samples, gains, h);
  }
  return gatedLoudness(after);
}

/** Which share of a hop's power the limiter leaves. */
function leftByLimiter(samples: Float32Array, gains: Float64Array, hop: number): number {
  const limited = evened(samples, gains, hop * HOP, (hop + 1) * HOP);
  let before = 0;
  let after = 0;
  for (let i = 0; i < limited.length; i++) {
    before += (samples[hop * HOP + i]! * gains[hop]!) ** 2;
    after += limited[i]! ** 2;
  }
  return before > 0 ? Math.min(1, after / before) : 1;
}

/** The gain for each hop: towards the loudness of the whole, slowly, and held in pauses. */
function curveOf(hops: Float64Array, whole: number): Float64Array {
  const wish = new Float64Array(hops.length);
  let held = 0;
  for (let i = 0; i < hops.length; i++) {
    let sum = 0;
    let n = 0;
    for (let j = Math.max(0, i - 2); j <= Math.min(hops.length - 1, i + 2); j++, n++) sum += hops[j]!;
    const here = loudnessOf(sum / n);
    if (here > whole - PAUSE) held = Math.max(-MOST_EVENING, Math.min(MOST_EVENING, whole - here));
    wish[i] = held;
  }
  // Back and forth, so that the hand is neither late nor early.
  smooth(wish, 1);
  smooth(wish, -1);
  return wish.map((db) => 10 ** (db / 20));
}

function smooth(values: Float64Array, by: 1 | -1): void {
  const n = values.length;
  let at = values[by === 1 ? 0 : n - 1] ?? 0;
  for (let k = 0; k < n; k++) {
    const i = by === 1 ? k : n - 1 - k;
    at += (values[i]! - at) / SLOWNESS;
    values[i] = at;
  }
}

/**
 * The samples from `from` up to `to` with the fader's gains and the limiter: none above the ceiling, without a click. Of the gains that single samples need the least one
 * within the look-ahead counts, averaged over as long: a window's mean of such minima is never above what the sample in its middle needs. However a recording is
 * cut, the parts fit together.
 */
export function evened(samples: Float32Array, gains: Float64Array, from: number, to: number): Float32Array {
  const before = Math.max(0, from - 2 * LOOK_AHEAD);
  const behind = Math.min(samples.length, to + 2 * LOOK_AHEAD);
  const louder = new Float32Array(behind - before);
  const loudest = withGains(samples, gains, before, louder);
  const out = louder.subarray(from - before, to - before);
  return loudest > CEILING ? limited(louder, from - before, to - before) : out;
}

/** Gains stand in the middle of their hop and change evenly between. Gives the largest sample that came of it. */
function withGains(samples: Float32Array, gains: Float64Array, start: number, into: Float32Array): number {
  const last = gains.length - 1;
  let loudest = 0;
  for (let k = 0; k < into.length; ) {
    const i = start + k;
    const at = i / HOP - 0.5;
    const h = Math.floor(at);
    const here = gains[Math.max(0, Math.min(last, h))] ?? 1;
    const next = gains[Math.max(0, Math.min(last, h + 1))] ?? here;
    const step = (next - here) / HOP;
    let gain = here + (next - here) * (at - h);
    // Up to the middle of the next hop it is one straight line.
    const end = Math.min(into.length, k + Math.max(1, Math.ceil((h + 1.5) * HOP - i)));
    for (; k < end; k++) {
      const s = samples[start + k]! * gain;
      into[k] = s;
      gain += step;
      const size = s < 0 ? -s : s;
      if (size > loudest) loudest = size;
    }
  }
  return loudest;
}

function limited(samples: Float32Array, from: number, to: number): Float32Array {
  const n = samples.length;
  // With a look-ahead's room at both ends: a peak at the very end is limited as one in the middle is.
  const least = new Float32Array(n + 2 * LOOK_AHEAD).fill(1);
  for (let i = 0; i < n; i++) {
    const size = Math.abs(samples[i]!);
    if (size <= CEILING) continue;
    const needed = CEILING / size;
    for (let j = i; j <= i + 2 * LOOK_AHEAD; j++) if (needed < least[j]!) least[j] = needed;
  }
  const out = new Float32Array(to - from);
  // Sums of whole numbers are exact, so that the running mean is the same wherever it began.
  const fine = (i: number) => Math.floor(least[i]! * FINE);
  let sum = 0;
  for (let j = from; j < from + 2 * LOOK_AHEAD; j++) sum += fine(j);
  for (let i = from; i < to; i++) {
    sum += fine(i + 2 * LOOK_AHEAD);
    out[i - from] = samples[i]! * (sum / ((2 * LOOK_AHEAD + 1) * FINE));
    sum -= fine(i);
  }
  return out;
}

/** A recording at `VOICE_RATE` made even, all at once. */
export function makeEven(samples: Float32Array): { samples: Float32Array; lufs: number | null } {
  const { gains, lufs } = faderFor(samples, measured(samples), 0, samples.length);
  return { samples: lufs === null ? samples : evened(samples, gains, 0, samples.length), lufs };
}
