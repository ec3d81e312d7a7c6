import { WeightedHops } from './loudness.ts';
import { VOICE_RATE } from './resample.ts';

/** Samples in a hop of 100 ms and in a frame of 20 ms, at `VOICE_RATE`. */
export const HOP = VOICE_RATE / 10;
export const FRAME = VOICE_RATE / 50;

/** A list of numbers that grows. */
class Growing {
  #values = new Float64Array(256);
  #n = 0;

  push(value: number): void {
    if (this.#n === this.#values.length) {
      const more = new Float64Array(2 * this.#n);
      more.set(this.#values);
      this.#values = more;
    }
    this.#values[this.#n++] = value;
  }

  get all(): Float64Array {
    return this.#values.subarray(0, this.#n);
  }
}

/**
 * What there is to know of a recording at `VOICE_RATE`, taken down while it is made: nothing is left to measure when it ends. However its parts are cut, it comes
 * to the same.
 */
export class VoiceMeter {
  readonly #weighted = new WeightedHops(VOICE_RATE);
  readonly #frames = new Growing();
  readonly #peaks = new Growing();
  #sum = 0;
  #peak = 0;
  #n = 0;

  push(samples: Float32Array): void {
    this.#weighted.push(samples);
    for (let i = 0; i < samples.length; i++) {
      const s = samples[i]!;
      this.#sum += s * s;
      const size = s < 0 ? -s : s;
      if (size > this.#peak) this.#peak = size;
      this.#n++;
      if (this.#n % FRAME === 0) {
        this.#frames.push(this.#sum / FRAME);
        this.#sum = 0;
      }
      if (this.#n % HOP === 0) {
        this.#peaks.push(this.#peak);
        this.#peak = 0;
      }
    }
  }

  /** Mean squares of whole frames, as they are. */
  get frames(): Float64Array {
    return this.#frames.all;
  }

  /** Mean squares of whole hops, K-weighted. */
  get hops(): Float64Array {
    return this.#weighted.all;
  }

  /** The largest sample of each whole hop. */
  get peaks(): Float64Array {
    return this.#peaks.all;
  }
}

/** The same of samples that are all there. */
export function measured(samples: Float32Array): VoiceMeter {
  const meter = new VoiceMeter();
  meter.push(samples);
  return meter;
}
