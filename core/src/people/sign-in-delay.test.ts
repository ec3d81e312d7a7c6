import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ADDRESS, type HoldUp, LOGIN, PAIR, waitAfter } from './sign-in-delay.ts';

const HOUR = 3_600_000;

/** How many guesses one gets in `ms` when each comes as soon as it may. */
function guessesIn(ms: number, holdUp: HoldUp): number {
  let n = 1;
  for (let at = waitAfter(1, holdUp); at <= ms; at += waitAfter(n, holdUp)) n++;
  return n;
}

describe('how wrong passwords are held up', () => {
  test('five are free, then 2, 4, 8 … seconds, a quarter of an hour at the most', () => {
    expect([1, 5, 6, 7, 8].map((n) => waitAfter(n, PAIR) / 1000)).toEqual([0, 0, 2, 4, 8]);
    expect(waitAfter(15, PAIR)).toBe(900_000);
    expect(waitAfter(1e9, PAIR)).toBe(900_000);
  });

  test('who guesses at one account gets 15 tries in the first half hour and 109 a day', () => {
    // 5 free and the one after them, 2 + 4 + … + 512 = 1,022 s for nine more, then one each 900 s.
    expect(guessesIn(HOUR / 2, PAIR)).toBe(15);
    expect(guessesIn(24 * HOUR, PAIR)).toBe(15 + Math.floor((24 * 3600 - 1022) / 900));
    expect(guessesIn(24 * HOUR, PAIR)).toBe(109);
  });

  test('nobody is kept out by others for longer than half a minute, nor a school for longer than five seconds', () => {
    fc.assert(
      fc.property(fc.nat(), (n) => {
        expect(waitAfter(n, LOGIN)).toBeLessThanOrEqual(30_000);
        expect(waitAfter(n, ADDRESS)).toBeLessThanOrEqual(5000);
      }),
    );
  });

  test('one more wrong password never makes the wait shorter', () => {
    fc.assert(
      fc.property(fc.nat(2000), fc.constantFrom(PAIR, LOGIN, ADDRESS), (n, h) => {
        expect(waitAfter(n + 1, h)).toBeGreaterThanOrEqual(waitAfter(n, h));
      }),
    );
  });
});
