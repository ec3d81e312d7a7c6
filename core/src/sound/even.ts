import { gatedLoudness, integratedLoudness, loudnessOf, weightedHops } from './loudness.ts';

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
/** The limiter looks ahead, and lets go, by this, in seconds. */
const LOOK_AHEAD_S = 0.005;

export interface Even {
  readonly samples: Float32Array;
  /** In LUFS, as it is now; null where nothing is loud enough to be measured. */
  readonly lufs: number | null;
}

/**
 * A recording made even and brought to `TARGET_LUFS`: whoever turns away from the microphone is still heard, and no peak is above −2 dB of full scale.
 * What is too short or too quiet to be measured is given back as it is.
 */
export function makeEven(samples: Float32Array, rate: number): Even {
  const hops = weightedHops(samples, rate);
  const whole = gatedLoudness(hops);
  if (whole === null) return { samples, lufs: null };
  const curve = faderCurve(hops, whole);
  let out = applyCurve(samples, curve, Math.round(rate / 10));
  let lufs = integratedLoudness(out, rate) ?? whole;
  // The limiter takes some of it away again: a second time round it is near enough.
  for (let round = 0; round < 3 && Math.abs(TARGET_LUFS - lufs) > 0.2; round++) {
    const lift = Math.min(TARGET_LUFS - lufs, MOST_LIFT - (lufs - whole));
    if (lift < 0.1 && lift > 0) break;
    out = limit(scale(out, 10 ** (lift / 20)), rate);
    lufs = integratedLoudness(out, rate) ?? lufs;
  }
  return { samples: limit(out, rate), lufs };
}

/** The gain for each hop: towards the loudness of the whole, slowly, and held in pauses. */
function faderCurve(hops: Float64Array, whole: number): Float64Array {
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

/** Gains stand in the middle of their hop and change evenly between. */
function applyCurve(samples: Float32Array, curve: Float64Array, hop: number): Float32Array {
  const out = new Float32Array(samples.length);
  const last = curve.length - 1;
  for (let i = 0; i < samples.length; i++) {
    const at = Math.max(0, Math.min(last, i / hop - 0.5));
    const h = Math.floor(at);
    const here = curve[h]!;
    const gain = here + (curve[Math.min(last, h + 1)]! - here) * (at - h);
    out[i] = samples[i]! * gain;
  }
  return out;
}

const scale = (samples: Float32Array, by: number): Float32Array => samples.map((s) => s * by);

/**
 * No sample above the ceiling, without a click: of the gains that single samples need the least one within the look-ahead, averaged over as long. A
 * window's mean of such minima is never above what the sample in its middle needs.
 */
export function limit(samples: Float32Array, rate: number): Float32Array {
  const n = samples.length;
  const half = Math.round(rate * LOOK_AHEAD_S);
  const needed = (i: number): number => {
    const size = Math.abs(samples[i]!);
    return size > CEILING ? CEILING / size : 1;
  };
  const least = leastWithin(n, half, needed);
  if (!least) return samples;
  const out = new Float32Array(n);
  let sum = 0;
  let count = 0;
  for (let i = -half; i < n; i++) {
    if (i + half < n) {
      sum += least[i + half]!;
      count++;
    }
    if (i - half - 1 >= 0) {
      sum -= least[i - half - 1]!;
      count--;
    }
    if (i >= 0) out[i] = samples[i]! * Math.min(sum / count, 1);
  }
  return out;
}

/** The least value within `half` before and behind each place; null: all are 1. */
function leastWithin(n: number, half: number, value: (i: number) => number): Float32Array | null {
  const out = new Float32Array(n).fill(1);
  let some = false;
  for (let i = 0; i < n; i++) {
    const v = value(i);
    if (v === 1) continue;
    some = true;
    const end = Math.min(n - 1, i + half);
    for (let j = Math.max(0, i - half); j <= end; j++) if (v < out[j]!) out[j] = v;
  }
  return some ? out : null;
}
