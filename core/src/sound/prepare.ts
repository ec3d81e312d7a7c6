import { evened, faderFor } from './even.ts';
import { FRAME, HOP, measured, type VoiceMeter } from './meter.ts';
import { peaksOf } from './peaks.ts';
import { VOICE_RATE } from './resample.ts';
import { spokenIn } from './silence.ts';

/** A recording as it is encoded. */
export interface Prepared {
  /** How many samples it has, at `VOICE_RATE`. */
  readonly length: number;
  readonly ms: number;
  /** So much silence was taken off its beginning, in ms: what happened while it was recorded is that much earlier now. */
  readonly cutMs: number;
  readonly peaks: readonly number[];
  /** Null: too quiet to be measured. */
  readonly lufs: number | null;
  /** Its samples from one place up to another, made even: an encoder takes them a bite at a time, and the next is made while it works. */
  samples(from: number, to: number): Float32Array;
}

/** Shorter than this, in ms, nobody has said anything. */
export const LEAST_MS = 300;

export const msOf = (samples: number): number => Math.round((samples * 1000) / VOICE_RATE);

/**
 * What was recorded, at `VOICE_RATE`, made ready: silence at both ends taken off, loudness made even, its wave known. Null: nothing was said. `meter` is what was measured
 * while it was recorded. `whole`: nothing is taken off, where one drew before the first word.
 */
export function prepareVoice(
  recorded: Float32Array,
  { meter = measured(recorded), whole = false }: { meter?: VoiceMeter; whole?: boolean } = {},
): Prepared | null {
  const spoken = spokenIn(meter.frames, FRAME, recorded.length);
  if (!spoken) return null;
  const { from, to } = whole ? { from: 0, to: recorded.length } : spoken;
  if (msOf(to - from) < LEAST_MS) return null;
  const { gains, lufs } = faderFor(recorded, meter, from, to);
  const frames = meter.frames
    .subarray(Math.floor(from / FRAME), Math.ceil(to / FRAME))
    .map((meanSquare, f) => meanSquare * (gains[Math.floor((from + f * FRAME) / HOP)] ?? 1) ** 2);
  return {
    length: to - from,
    ms: msOf(to - from),
    cutMs: msOf(from),
    peaks: peaksOf(frames),
    lufs,
    samples: (a, b) =>
      lufs === null
        ? recorded.subarray(from + a, from + Math.min(b, to - from))
        : evened(recorded, gains, from + a, from + Math.min(b, to - from)),
  };
}
