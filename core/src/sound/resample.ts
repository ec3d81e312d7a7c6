/** What is kept of a voice: all that speech has, at half the cost of what microphones give. */
export const VOICE_RATE = 24_000;
/** Zero crossings of the filter to each side: enough that what cannot be kept is 60 dB down. */
const WINGS = 16;
/** The filter is known at so many places between two zero crossings; between them it is as good as straight. */
const FINE = 512;

/** One wing of the filter, from its middle outwards. */
const WING = /* @__PURE__ */ Float64Array.from({ length: WINGS * FINE + 2 }, (_, i) => {
  const x = i / FINE;
  const w = Math.min(1, x / WINGS);
  const bell = 0.42 + 0.5 * Math.cos(Math.PI * w) + 0.08 * Math.cos(2 * Math.PI * w);
  return bell * (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
});

function filterAt(x: number): number {
  const at = Math.abs(x) * FINE;
  const i = Math.floor(at);
  return i > WINGS * FINE ? 0 : WING[i]! + (WING[i + 1]! - WING[i]!) * (at - i);
}

/**
 * Brings samples to `VOICE_RATE` a part at a time, as they come from a microphone: a sinc filter in a Blackman window, cut off below half of the lower
 * rate. However the parts are cut, the same samples come out.
 */
export class Resampler {
  readonly #step: number;
  readonly #scale: number;
  readonly #reach: number;
  /** What is still needed of the input, and which sample of it is its first. */
  #held = new Float32Array(0);
  #first = 0;
  /** How many samples were given out. */
  #given = 0;

  constructor(rate: number) {
    if (!(rate >= 8000 && rate <= 384_000)) throw new Error(`Sample rate ${rate} is outside 8000..384000`);
    this.#step = rate / VOICE_RATE;
    this.#scale = Math.min(1, 1 / this.#step) * 0.95;
    this.#reach = WINGS / this.#scale;
  }

  /** More input; gives what can be told of the output by now. */
  push(part: Float32Array): Float32Array {
    const held = new Float32Array(this.#held.length + part.length);
    held.set(this.#held);
    held.set(part, this.#held.length);
    this.#held = held;
    const known = this.#first + held.length;
    const out = new Float32Array(Math.ceil(part.length / this.#step) + 2 * Math.ceil(this.#reach));
    let n = 0;
    for (let at = this.#given * this.#step; at + this.#reach < known; at = this.#given * this.#step) {
      out[n++] = this.#at(at);
      this.#given++;
    }
    const needed = Math.max(0, Math.floor(this.#given * this.#step - this.#reach) - this.#first);
    this.#held = held.slice(needed);
    this.#first += needed;
    return out.subarray(0, n);
  }

  /** The end: behind it is silence. */
  end(): Float32Array {
    const known = this.#first + this.#held.length;
    const most = Math.ceil(known / this.#step);
    const rest = this.push(new Float32Array(Math.ceil(this.#reach) + 1));
    this.#held = new Float32Array(0);
    return rest.subarray(0, Math.max(0, most - (this.#given - rest.length)));
  }

  #at(place: number): number {
    const from = Math.max(this.#first, Math.ceil(place - this.#reach));
    const to = Math.min(this.#first + this.#held.length - 1, Math.floor(place + this.#reach));
    let sum = 0;
    for (let i = from; i <= to; i++)
      sum += this.#held[i - this.#first]! * filterAt((i - place) * this.#scale);
    return sum * this.#scale;
  }
}
