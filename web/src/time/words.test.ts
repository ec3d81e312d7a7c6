import { expect, test } from 'vitest';
import { fileSize, lateWords, makeClock, paceWords, plural } from './words.ts';

test('moments are read in the school’s time zone', () => {
  const clock = makeClock('Europe/Helsinki');
  const at = Date.UTC(2026, 10, 23, 14, 2);
  expect(clock.moment(at, at - 2 * 86_400_000)).toBe('Mon 16:02');
  expect(clock.moment(at, at + 2 * 86_400_000)).toBe('23 Nov 16:02');
  expect(clock.full(at)).toBe('Monday 23 November 2026, 16:02');
});

test('late is said as a teacher says it', () => {
  expect(lateWords(0)).toBeNull();
  expect(lateWords(60_000)).toBe('late 1 min');
  expect(lateWords(2 * 3_600_000)).toBe('late 2 h');
  expect(lateWords(50 * 3_600_000)).toBe('late 2 days');
});

test('how long a pile takes is rounded the more the longer it is', () => {
  expect(paceWords(10, null)).toBeNull();
  expect(paceWords(1, 65)).toBe('about 1 minute at your pace');
  expect(paceWords(10, 250)).toBe('about 40 minutes at your pace');
  expect(paceWords(30, 300)).toBe('about 2.5 hours at your pace');
});

test('one copy, two copies; sizes', () => {
  expect([plural(1, 'copy', 'copies'), plural(2, 'copy', 'copies')]).toEqual(['1 copy', '2 copies']);
  expect([fileSize(12), fileSize(300_000), fileSize(5_500_000)]).toEqual(['1 kB', '293 kB', '5.2 MB']);
});
