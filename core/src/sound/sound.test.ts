import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { evened, faderFor, makeEven, TARGET_LUFS } from './even.ts';
import { highPass, integratedLoudness, shelf } from './loudness.ts';
import { FRAME, HOP, measured, VoiceMeter } from './meter.ts';
import { levelOf, PEAKS, peaksOf } from './peaks.ts';
import { prepareVoice } from './prepare.ts';
import { Resampler, VOICE_RATE } from './resample.ts';
import { spokenIn } from './silence.ts';

const sine = (hz: number, seconds: number, amplitude: number, rate: number) =>
  Float32Array.from(
    { length: Math.round(seconds * rate) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rate),
  );
const silence = (seconds: number) => new Float32Array(Math.round(seconds * VOICE_RATE));
const joined = (...parts: Float32Array[]) => {
  const out = new Float32Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
};
/** Something like speech: bursts of a few tones with short pauses. */
const speech = (seconds: number, amplitude: number) =>
  sine(220, seconds, amplitude, VOICE_RATE).map((s, i) => {
    const beat = Math.sin((2 * Math.PI * 3 * i) / VOICE_RATE);
    return beat > -0.3 ? s * (0.4 + 0.6 * Math.abs(beat)) : 0;
  });

describe('loudness, after ITU-R BS.1770-4', () => {
  test('at 48 kHz the filters are those that the standard prints', () => {
    const one = shelf(48_000);
    expect(one.b).toEqual(
      [1.53512485958697, -2.69169618940638, 1.19839281085285].map((v) => expect.closeTo(v, 10)),
    );
    expect(one.a).toEqual([-1.69065929318241, 0.73248077421585].map((v) => expect.closeTo(v, 10)));
    const two = highPass(48_000);
    expect(two.b).toEqual([1, -2, 1]);
    expect(two.a).toEqual([-1.99004745483398, 0.99007225036621].map((v) => expect.closeTo(v, 10)));
  });

  test('a sine of 997 Hz at full scale in one channel is −3.01 LKFS, at any rate', () => {
    for (const rate of [48_000, 44_100, VOICE_RATE])
      expect(integratedLoudness(sine(997, 3, 1, rate), rate)).toBeCloseTo(-3.01, 1);
  });

  test('silence around a sound does not make it quieter: the gates leave it out', () => {
    const sound = sine(997, 4, 0.1, VOICE_RATE);
    const alone = integratedLoudness(sound, VOICE_RATE)!;
    expect(alone).toBeCloseTo(-23.01, 1);
    // Blocks that lie half in the silence count, so a little is lost.
    expect(integratedLoudness(joined(silence(20), sound, silence(20)), VOICE_RATE)!).toBeGreaterThan(
      alone - 0.4,
    );
  });

  test('what is too short or silent has no loudness', () => {
    expect(integratedLoudness(sine(997, 0.3, 1, VOICE_RATE), VOICE_RATE)).toBeNull();
    expect(integratedLoudness(silence(5), VOICE_RATE)).toBeNull();
  });
});

const heardIn = (samples: Float32Array) => spokenIn(measured(samples).frames, FRAME, samples.length);

describe('trimming', () => {
  test('silence before and behind goes, but for a breath; pauses stay', () => {
    const said = joined(silence(2), speech(1, 0.2), silence(1.5), speech(1, 0.2), silence(3));
    const { from, to } = heardIn(said)!;
    expect(from / VOICE_RATE).toBeCloseTo(1.85, 1);
    // The last burst of this speech ends 0.14 s before its end.
    expect(to / VOICE_RATE).toBeCloseTo(5.61, 1);
  });

  test('a room that hums is no voice, and one who talks all the time is not cut', () => {
    const hum = joined(sine(100, 2, 0.004, VOICE_RATE), speech(1, 0.3), sine(100, 2, 0.004, VOICE_RATE));
    expect(heardIn(hum)!.from / VOICE_RATE).toBeCloseTo(1.85, 1);
    const all = sine(220, 3, 0.3, VOICE_RATE);
    expect(heardIn(all)).toEqual({ from: 0, to: all.length });
  });

  test('nothing but silence, and a click, is nothing', () => {
    expect(heardIn(silence(5))).toBeNull();
    const click = silence(2);
    click[VOICE_RATE] = 0.9;
    expect(prepareVoice(click)).toBeNull();
    expect(prepareVoice(new Float32Array(0))).toBeNull();
  });
});

describe('making it even', () => {
  test('a whisper, a shout and one who turns away come out equally loud, and no peak passes the ceiling', () => {
    for (const said of [
      speech(8, 0.01),
      speech(8, 0.9),
      joined(speech(5, 0.3), speech(5, 0.08)),
      joined(speech(4, 0.05), silence(2), speech(4, 0.5)),
    ]) {
      const { samples, lufs } = makeEven(said);
      expect(Math.abs(integratedLoudness(samples, VOICE_RATE)! - TARGET_LUFS)).toBeLessThan(1);
      expect(lufs).toBeCloseTo(integratedLoudness(samples, VOICE_RATE)!, 1);
      expect(samples.every((s) => Math.abs(s) <= 0.795)).toBe(true);
    }
  });

  test('the quiet half comes nearer to the loud one', () => {
    const { samples } = makeEven(joined(speech(6, 0.4), speech(6, 0.1)));
    const half = samples.length / 2;
    const loud = integratedLoudness(samples.subarray(0, half), VOICE_RATE)!;
    const quiet = integratedLoudness(samples.subarray(half), VOICE_RATE)!;
    // They were 12 LU apart.
    expect(loud - quiet).toBeLessThan(5);
  });

  test('the limiter keeps the ceiling whatever comes, and leaves alone what is below it', () => {
    fc.assert(
      fc.property(
        fc.float32Array({ minLength: 1, maxLength: 6000, min: -4, max: 4, noNaN: true }),
        (samples) => {
          const flat = new Float64Array(Math.ceil(samples.length / HOP)).fill(1);
          return evened(samples, flat, 0, samples.length).every((s) => Math.abs(s) <= 0.7944);
        },
      ),
      { numRuns: 200, seed: 13 },
    );
    const quiet = speech(1, 0.5);
    expect(evened(quiet, new Float64Array(10).fill(1), 0, quiet.length)).toEqual(quiet);
  });

  test('however it is cut, the parts fit together, and it is measured the same', () => {
    const said = joined(speech(1.3, 0.5), speech(0.7, 0.02), speech(1, 0.9));
    const { gains } = faderFor(said, measured(said), 0, said.length);
    const whole = evened(said, gains, 0, said.length);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: said.length - 1 }), { maxLength: 6 }), (cuts) => {
        const ends = [...new Set([0, ...cuts, said.length])].sort((a, b) => a - b);
        const parts = ends.slice(1).map((to, i) => evened(said, gains, ends[i]!, to));
        const again = joined(...parts);
        for (let i = 0; i < whole.length; i += 7) expect(Math.abs(again[i]! - whole[i]!)).toBeLessThan(1e-5);
        const meter = new VoiceMeter();
        for (const [i, to] of ends.slice(1).entries()) meter.push(said.subarray(ends[i]!, to));
        expect(meter.hops).toEqual(measured(said).hops);
        expect(meter.frames).toEqual(measured(said).frames);
        expect(meter.peaks).toEqual(measured(said).peaks);
      }),
      { numRuns: 20, seed: 13 },
    );
  });
});

describe('resampling', () => {
  const all = (samples: Float32Array, rate: number, cuts: readonly number[]) => {
    const r = new Resampler(rate);
    const parts: Float32Array[] = [];
    let at = 0;
    for (const cut of cuts) {
      parts.push(r.push(samples.subarray(at, at + cut)));
      at += cut;
    }
    parts.push(r.push(samples.subarray(at)), r.end());
    return joined(...parts);
  };

  test('a tone keeps its pitch and strength, and as long as it was', () => {
    for (const rate of [48_000, 44_100, 16_000]) {
      const out = all(sine(440, 1, 0.5, rate), rate, []);
      expect(Math.abs(out.length - VOICE_RATE)).toBeLessThanOrEqual(1);
      const want = sine(440, 1, 0.5, VOICE_RATE);
      for (let i = 2000; i < 22_000; i += 97) expect(Math.abs(out[i]! - want[i]!)).toBeLessThan(0.003);
    }
  });

  test('what is above half the rate is not folded back', () => {
    const out = all(sine(17_000, 1, 0.5, 48_000), 48_000, []);
    expect(Math.max(...out.subarray(1000, 23_000))).toBeLessThan(0.002);
  });

  test('however the parts are cut, the same comes out', () => {
    const samples = sine(440, 0.2, 0.5, 44_100);
    const whole = all(samples, 44_100, []);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 3000 }), { maxLength: 8 }), (cuts) => {
        expect(all(samples, 44_100, cuts)).toEqual(whole);
      }),
      { numRuns: 30, seed: 13 },
    );
  });
});

test('peaks are of the loudest, a meter goes up with the level', () => {
  const rising = Float64Array.from({ length: 800 }, (_, i) => (i / 800) ** 2);
  const peaks = peaksOf(rising);
  expect(peaks).toHaveLength(PEAKS);
  expect(peaks.at(-1)).toBe(100);
  expect(peaks[39]).toBe(50);
  expect(peaksOf(new Float64Array(3))).toEqual(Array(PEAKS).fill(0));
  expect(peaksOf(Float64Array.of(1, 1))).toEqual(Array(PEAKS).fill(100));
  expect(levelOf(new Float32Array(10))).toBe(0);
  expect(levelOf(sine(100, 0.1, 0.01, VOICE_RATE))).toBeLessThan(levelOf(sine(100, 0.1, 0.1, VOICE_RATE)));
});

test('a recording is made ready: what was cut off is told, so that what was drawn meanwhile keeps its moment', () => {
  const made = prepareVoice(joined(silence(1), speech(2, 0.1), silence(1)))!;
  expect(made.cutMs).toBeCloseTo(850, -2);
  expect(made.ms).toBeCloseTo(2260, -2);
  expect(made.samples(0, made.length)).toHaveLength(Math.round((made.ms * VOICE_RATE) / 1000));
  expect(Math.abs(integratedLoudness(made.samples(0, made.length), VOICE_RATE)! - TARGET_LUFS)).toBeLessThan(
    1,
  );
  expect(prepareVoice(joined(silence(1), speech(2, 0.1), silence(1)), { whole: true })).toMatchObject({
    cutMs: 0,
    ms: 4000,
  });
});
