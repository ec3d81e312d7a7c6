/** So many bars a recording is drawn with, however long it is. */
export const PEAKS = 80;

/** How loud each of `PEAKS` equal parts is, 0…100 of the loudest of them: how its wave is drawn. Of a voice that was made even the single peaks are all alike, so it is the mean. Silence is all 0. */
export function peaksOf(samples: Float32Array): number[] {
  const peaks = Array.from({ length: PEAKS }, (_, k) => {
    const to = Math.floor(((k + 1) * samples.length) / PEAKS);
    const from = Math.floor((k * samples.length) / PEAKS);
    let sum = 0;
    for (let i = from; i < to; i++) sum += samples[i]! ** 2;
    return Math.sqrt(sum / Math.max(1, to - from));
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
