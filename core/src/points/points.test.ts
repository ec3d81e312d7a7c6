import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { formatPoints, MAX_POINTS, parsePoints } from './points.ts';

describe('points', () => {
  test.each([
    ['8', 800],
    ['8.5', 850],
    ['8,5', 850],
    ['8½', 850],
    ['½', 50],
    [' 7.25 ', 725],
    ['.5', 50],
    ['0', 0],
    ['10.00', 1000],
    ['7.500', 750],
  ])('"%s" is %i hundredths', (text, value) => {
    expect(parsePoints(text, 1000)).toEqual({ ok: true, value });
  });

  test.each([
    ['', 'empty'],
    ['   ', 'empty'],
    ['ten', 'not-a-number'],
    ['8.5.1', 'not-a-number'],
    ['1e3', 'not-a-number'],
    ['NaN', 'not-a-number'],
    ['.', 'not-a-number'],
    ['-1', 'negative'],
    ['−2', 'negative'],
    ['3.333', 'too-fine'],
    ['10.01', 'above-most'],
    ['999999999', 'above-most'],
  ])('"%s" is refused: %s', (text, reason) => {
    expect(parsePoints(text, 1000)).toEqual({ ok: false, reason });
  });

  test('what is written is read back as the same', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: MAX_POINTS }), (value) => {
        expect(parsePoints(formatPoints(value))).toEqual({ ok: true, value });
      }),
      { seed: 3 },
    );
  });

  test('halves and quarters are written as signs', () => {
    expect([850, 25, 775, 720, 905, 1000].map(formatPoints)).toEqual(['8½', '¼', '7¾', '7.2', '9.05', '10']);
  });
});
