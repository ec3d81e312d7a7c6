import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { MarkId, makeId } from './id.ts';

const random = fc.uint8Array({ minLength: 10, maxLength: 10 });

describe('ids', () => {
  test('a hand-worked one: the time in its first 48 bits, version 7, variant 10', () => {
    expect(makeId(0x0123456789ab, new Uint8Array(10).fill(0xff))).toBe(
      '01234567-89ab-7fff-bfff-ffffffffffff',
    );
    expect(makeId(0, new Uint8Array(10))).toBe('00000000-0000-7000-8000-000000000000');
  });

  test('are always valid and sort by the time they were made', () => {
    fc.assert(
      fc.property(fc.nat(2 ** 31), fc.nat(1000), random, random, (t, later, a, b) => {
        const first = makeId(t * 100, a);
        const second = makeId(t * 100 + later + 1, b);
        expect(MarkId.safeParse(first).success).toBe(true);
        expect(first < second).toBe(true);
      }),
      { seed: 8 },
    );
  });

  test('are refused in capitals, in other versions, with anything round them', () => {
    const good = makeId(1, new Uint8Array(10));
    for (const bad of [
      good.toUpperCase().replace('0', 'A'),
      good.replace('-7', '-4'),
      ` ${good}`,
      `${good}\n`,
      good.slice(1),
    ])
      expect(MarkId.safeParse(bad).success, JSON.stringify(bad)).toBe(false);
  });

  test('too little randomness throws', () => {
    expect(() => makeId(1, new Uint8Array(9))).toThrow('10 random bytes, got 9');
  });
});
