import { describe, expect, test } from 'vitest';
import { Chance } from '../chance.ts';
import { GLYPHS } from './glyphs.ts';
import { handOf, smooth, write } from './write.ts';

describe('handwriting', () => {
  test('every letter, digit and sign of an answer has a drawing', () => {
    for (const char of "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.,!?'-:()/+=°")
      expect(GLYPHS.has(char), char).toBe(true);
  });

  test('stays within the width and goes on in the next line', () => {
    const chance = new Chance(4);
    const { strokes, lines } = write(
      chance,
      handOf(chance),
      'the lines are very close together at the north side so it is steep',
      100,
      200,
      180,
      20,
    );
    expect(lines).toBeGreaterThan(2);
    const xs = strokes.flat().map((p) => p[0]);
    expect(Math.min(...xs)).toBeGreaterThan(92);
    expect(Math.max(...xs)).toBeLessThan(290);
  });

  test('is the same for the same seed', () => {
    const once = () => write(new Chance(9), handOf(new Chance(2)), 'Tarn Hut', 0, 0, 100, 10);
    expect(once()).toEqual(once());
  });

  test('smoothing goes through the drawn points', () => {
    const drawn: [number, number][] = [
      [0, 0],
      [4, 8],
      [9, 3],
      [12, 6],
    ];
    const smoothed = smooth(drawn);
    drawn.forEach((p, i) => expect(smoothed[i * 4]).toEqual(p));
  });
});
