import { describe, expect, test } from 'vitest';
import { lateBy, lateness } from './lateness.ts';
import { placeForStudent, placeOf, waits } from './place.ts';

describe('where a copy is', () => {
  test.each([
    [{ handIns: 0, handedBack: 0, marking: null }, 'with-student'],
    [{ handIns: 1, handedBack: 0, marking: null }, 'in'],
    [{ handIns: 1, handedBack: 0, marking: { done: false } }, 'being-marked'],
    [{ handIns: 1, handedBack: 0, marking: { done: true } }, 'marked'],
    [{ handIns: 1, handedBack: 1, marking: { done: true } }, 'handed-back'],
    [{ handIns: 2, handedBack: 1, marking: null }, 'in-again'],
    [{ handIns: 2, handedBack: 1, marking: { done: false } }, 'being-marked'],
    [{ handIns: 2, handedBack: 2, marking: { done: true } }, 'handed-back'],
  ] as const)('%o is %s', (facts, place) => {
    expect(placeOf({ ...facts, backAlone: false })).toBe(place);
  });

  test('scored though nothing came in, it stays with its student until it is called marked', () => {
    const alone = (done: boolean, backAlone = false) =>
      placeOf({ handIns: 0, handedBack: 0, marking: { done }, backAlone });
    expect([alone(false), alone(true), alone(true, true)]).toEqual(['with-student', 'marked', 'handed-back']);
    // What comes in afterwards is a hand-in like any other.
    expect(placeOf({ handIns: 1, handedBack: 0, marking: null, backAlone: true })).toBe('in');
  });

  test('a student cannot tell whether marking has begun', () => {
    expect(placeForStudent({ handIns: 1, handedBack: 0, backAlone: false })).toBe('in');
    expect(placeForStudent({ handIns: 2, handedBack: 1, backAlone: false })).toBe('in-again');
  });

  test('what waits is in, in again or half marked', () => {
    expect(
      (['with-student', 'in', 'being-marked', 'marked', 'handed-back', 'in-again'] as const).filter(waits),
    ).toEqual(['in', 'being-marked', 'in-again']);
  });
});

describe('late', () => {
  const minute = 60_000;
  test('at the very moment is in time, a second after is late by a begun minute', () => {
    expect(lateBy(1000, 1000)).toBe(0);
    expect(lateBy(null, 5)).toBe(0);
    expect(lateness(lateBy(0, 1000))).toEqual({ count: 1, unit: 'minute' });
  });
  test('hours up to two days, then days', () => {
    expect(lateness(125 * minute)).toEqual({ count: 2, unit: 'hour' });
    expect(lateness(47 * 60 * minute)).toEqual({ count: 47, unit: 'hour' });
    expect(lateness(75 * 60 * minute)).toEqual({ count: 3, unit: 'day' });
    expect(lateness(0)).toBeNull();
  });
});
