/** In samples: from where, and up to before where, something is heard. */
export interface Spoken {
  readonly from: number;
  readonly to: number;
}

const FRAME_S = 0.02;
/** Kept before the first sound and after the last, so that no letter is cut. */
const LEAD_S = 0.15;
const TAIL_S = 0.25;
/** Below this, in dB of full scale, nothing is heard, however quiet the room. */
const FLOOR_DB = -60;
/** What a voice stands above the room. */
const ABOVE_ROOM_DB = 9;
/** And no voice lies deeper than this below the loudest that is said. */
const BELOW_LOUDEST_DB = 38;
/** A click is no word: a sound counts from so many frames in a row. */
const LEAST_FRAMES = 3;

/**
 * Where in a recording something is said, with a breath before and behind it; null: nowhere. The room's own noise is what the quietest tenth of it has.
 * Pauses between words stay: they belong to what is said. `frames` are the mean squares of each `size` samples of all `length`.
 */
export function spokenIn(frames: Float64Array, size: number, length: number): Spoken | null {
  if (frames.length === 0) return null;
  const levels = frames.map((meanSquare) => 10 * Math.log10(meanSquare + 1e-12));
  const sorted = levels.toSorted();
  const room = sorted[Math.floor(sorted.length / 10)]!;
  const loudest = sorted.at(-1)!;
  // One who talks without a pause has no quiet tenth.
  const gate = Math.max(FLOOR_DB, Math.min(room + ABOVE_ROOM_DB, loudest - 12), loudest - BELOW_LOUDEST_DB);
  const first = runFrom(levels, gate, 1);
  if (first === null) return null;
  const last = runFrom(levels, gate, -1)!;
  const second = size / FRAME_S;
  return {
    from: Math.max(0, first * size - Math.round(LEAD_S * second)),
    to: Math.min(length, (last + 1) * size + Math.round(TAIL_S * second)),
  };
}

/** The outermost frame of the first run above the gate, from the front or from behind. */
function runFrom(levels: Float64Array, gate: number, by: 1 | -1): number | null {
  let run = 0;
  for (let k = 0; k < levels.length; k++) {
    const f = by === 1 ? k : levels.length - 1 - k;
    run = levels[f]! > gate ? run + 1 : 0;
    if (run === LEAST_FRAMES) return f - by * (LEAST_FRAMES - 1);
  }
  return null;
}
