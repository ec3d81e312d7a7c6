import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rulesInPicture } from './rules-in-picture.ts';

/** A sheet of 400 × 300 points at two pixels a point, drawn on by hand. */
const SCALE = 2;
function sheet(paper = 250) {
  const [width, height] = [400 * SCALE, 300 * SCALE];
  const pixels = new Uint8Array(width * height).fill(paper);
  const dot = (x: number, y: number, grey: number) => {
    if (x >= 0 && y >= 0 && x < width && y < height) pixels[Math.round(y) * width + Math.round(x)] = grey;
  };
  return {
    picture: { width, height, pixels },
    /** From x to x2 at y, in points; leans by `climb` points over its length. */
    rule(x: number, y: number, x2: number, { thick = 0.8, grey = 120, climb = 0 } = {}) {
      for (let px = x * SCALE; px < x2 * SCALE; px++) {
        const at = (y + (climb * (px / SCALE - x)) / (x2 - x)) * SCALE;
        for (let k = 0; k < Math.max(1, Math.round(thick * SCALE)); k++) dot(px, Math.floor(at) + k, grey);
      }
    },
    /** Upright strokes, as letters are. */
    letters(x: number, y: number, x2: number) {
      for (let px = x * SCALE; px < x2 * SCALE; px += 5)
        for (let py = y * SCALE; py < (y + 9) * SCALE; py++) dot(px, py, 20);
    },
  };
}

describe('rules on a scanned page', () => {
  it('are found where they are, pale ones and leaning ones too', () => {
    const s = sheet();
    s.rule(54, 60, 342);
    s.rule(54, 90, 342, { grey: 190 });
    s.rule(54, 130, 342, { climb: 9 });
    const found = rulesInPicture(s.picture, SCALE);
    expect(found).toHaveLength(3);
    for (const [i, y] of [60.4, 90.4, 135].entries()) {
      const [l, t, r, b] = found[i]!;
      expect(Math.abs((t + b) / 2 - y)).toBeLessThan(1.5);
      expect(l).toBeGreaterThan(40);
      expect(l).toBeLessThan(74);
      expect(r).toBeGreaterThan(322);
      expect(r).toBeLessThan(362);
    }
  });

  it('letters, bars, short dashes and shaded paper are none', () => {
    const s = sheet(236);
    for (const y of [40, 60, 80]) s.letters(40, y, 360);
    s.rule(40, 150, 360, { thick: 8 });
    s.rule(60, 200, 90);
    expect(rulesInPicture(s.picture, SCALE)).toEqual([]);
    // The edge of the scan is darker: paper all the same.
    for (let i = 0; i < s.picture.pixels.length; i++)
      if (i % s.picture.width < 60 && s.picture.pixels[i] === 236) s.picture.pixels[i] = 150;
    expect(rulesInPicture(s.picture, SCALE)).toEqual([]);
  });

  it('two beside each other are two', () => {
    const s = sheet();
    s.rule(36, 100, 162);
    s.rule(234, 100, 378);
    expect(rulesInPicture(s.picture, SCALE)).toHaveLength(2);
  });

  it('law: as many as were drawn, from the top, however they lie', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 2, max: 27 }), { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 90, max: 180 }),
        (tens, grey) => {
          const s = sheet();
          for (const y of tens) s.rule(54, y * 10, 300, { grey });
          const found = rulesInPicture(s.picture, SCALE).map((b) => Math.round((b[1] + b[3]) / 20));
          expect(found).toEqual([...tens].sort((a, b) => a - b));
        },
      ),
      { numRuns: 25, seed: 18 },
    );
  });
});
