/** So many bars a recording is drawn with, however long it is. */
export const PEAKS = 80;

/** Of the mean squares of frames: how loud each of `PEAKS` equal parts is, 0…100 of the loudest of them: how its wave is drawn. Of a voice that was made even the single peaks are all alike, so it is the mean. Silence is all 0. */
export function peaksOf(frames: Float64Array): number[] {
  const peaks = Array.from({ length: PEAKS }, (_, k) => {
    const from = Math.floor((k * frames.length) / PEAKS);
    // Of a very short one a frame is drawn by several bars.
    const to = Math.max(from + 1, Math.floor(((k + 1) * frames.length) / PEAKS));
    let sum = 0;
    for (let f = from; f < to; f++) sum += frames[f] ?? 0;
    return Math.sqrt(sum / (to - from));
  });
  const loudest = Math.max(...peaks);
  return peaks.map((p) => (loudest > 0 ? Math.round((100 * p) / loudest) : 0));
}

/** The level of what was said last, 0…1 from −54 dB to −6 dB of full scale: how high a meter stands. */
export function levelOf(samples: Float32Array): number {
  let sum = 0;
  for (const s of samples) sum += s * s;
  const db = 10 * Math.log10(sum / Math.max(1, samples.length) + 1e-12);
  return Math.max(0, Math.min(1, (db + 54) / 48));
}
