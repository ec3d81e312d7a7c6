import { makeEven } from './even.ts';
import { peaksOf } from './peaks.ts';
import { VOICE_RATE } from './resample.ts';
import { heardIn } from './silence.ts';

/** A recording as it is encoded. */
export interface Prepared {
  /** At `VOICE_RATE`. */
  readonly samples: Float32Array;
  readonly ms: number;
  /** So much silence was taken off its beginning, in ms: what happened while it was recorded is that much earlier now. */
  readonly cutMs: number;
  readonly peaks: readonly number[];
  readonly lufs: number | null;
}

/** Shorter than this, in ms, nobody has said anything. */
export const LEAST_MS = 300;

export const msOf = (samples: number): number => Math.round((samples * 1000) / VOICE_RATE);

/**
 * What was recorded, at `VOICE_RATE`, made ready: silence at both ends taken off, loudness made even, its wave known. Null: nothing was said. `whole`: nothing
 * is taken off, for a film's sound, or where one drew before the first word.
 */
export function prepareVoice(samples: Float32Array, whole = false): Prepared | null {
  const heard = heardIn(samples, VOICE_RATE);
  if (!heard) return null;
  const { from, to } = whole ? { from: 0, to: samples.length } : heard;
  if (msOf(to - from) < LEAST_MS) return null;
  const even = makeEven(samples.slice(from, to), VOICE_RATE);
  return {
    samples: even.samples,
    ms: msOf(to - from),
    cutMs: msOf(from),
    peaks: peaksOf(even.samples),
    lufs: even.lufs,
  };
}
