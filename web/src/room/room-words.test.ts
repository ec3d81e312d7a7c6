import type { RoomRow } from '@jotmark/core';
import { expect, test } from 'vitest';
import { silenceWords, whereabouts } from './room-words.ts';

const row = (over: Partial<RoomRow>) =>
  ({ place: 'with-student', excused: false, seenAt: null, ...over }) as RoomRow;

test.each([
  [null, 'nothing written yet'],
  [3_000, 'writing now'],
  [14_999, 'writing now'],
  [15_000, 'a moment ago'],
  [60_000, 'nothing for 1 minute'],
  [89 * 60_000, 'nothing for 89 minutes'],
  [150 * 60_000, 'nothing for 3 hours'],
])('%s milliseconds of silence are told as “%s”', (silence, words) => {
  expect(silenceWords(row({}), silence)).toBe(words);
});

test('a copy that is in is not silent', () => {
  expect(silenceWords(row({ place: 'in' }), 600_000).trim()).toBe('');
});

test('where somebody is: excused, how far, or where the copy is', () => {
  expect(whereabouts(row({ excused: true }), 2, 5, 0)).toBe('excused');
  expect(whereabouts(row({}), 2, 5, 0)).toBe('away · 2 of 5');
  // Who was excused and handed in all the same has handed in.
  expect(whereabouts(row({ excused: true, place: 'in' }), 5, 5, 0)).not.toBe('excused');
});
