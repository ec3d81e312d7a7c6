import { measured, type VoiceMeter } from '@jotmark/core';
import { encodeVoice } from '../../web/src/voice/encode.ts';
import { makeReady } from '../../web/src/voice/make-ready.ts';

const RATE = 24_000;
const made = new Map<number, { parts: Int16Array[]; samples: Float32Array; meter: VoiceMeter }>();

/** Something that has the shape of speech: tones in bursts, louder and quieter, with pauses. */
function speech(minutes: number) {
  const known = made.get(minutes);
  if (known) return known;
  const samples = new Float32Array(minutes * 60 * RATE);
  for (let i = 0; i < samples.length; i++) {
    const t = i / RATE;
    const burst = Math.sin(2 * Math.PI * 3.1 * t) > -0.2 && t % 7 < 6 ? 1 : 0;
    const loud = 0.08 + 0.06 * Math.sin(t / 5);
    samples[i] =
      burst *
      loud *
      (Math.sin(2 * Math.PI * 180 * t) + 0.5 * Math.sin(2 * Math.PI * 710 * t) + 0.2 * Math.sin(i * i));
  }
  const parts: Int16Array[] = [];
  for (let at = 0; at < samples.length; at += RATE / 2)
    parts.push(Int16Array.from(samples.subarray(at, at + RATE / 2), (s) => Math.round(s * 32_767)));
  // Measured while it is recorded, as in the app.
  const both = { parts, samples, meter: measured(samples) };
  made.set(minutes, both);
  return both;
}

addEventListener('message', async ({ data }: MessageEvent<{ what: 'ready' | 'bare'; minutes: number }>) => {
  const { parts, samples, meter } = speech(data.minutes);
  const start = performance.now();
  if (data.what === 'ready') await makeReady(parts, false, meter);
  else await encodeVoice({ length: samples.length, samples: (from, to) => samples.subarray(from, to) });
  postMessage(performance.now() - start);
});
