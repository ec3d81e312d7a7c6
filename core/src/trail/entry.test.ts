import fc from 'fast-check';
import { expect, test } from 'vitest';
import { replayText, TrailEntry, textStep } from './entry.ts';

test('a step holds only what changed', () => {
  expect(textStep('the hill', 'the steep hill')).toEqual(['t', 4, 0, 'steep ']);
  expect(textStep('aab', 'ab')).toEqual(['t', 1, 1, '']);
  expect(textStep('same', 'same')).toEqual(['t', 4, 0, '']);
});

test('replayed it gives the text after it, for any two texts', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 60 }), fc.string({ maxLength: 60 }), (before, after) => {
      const step = TrailEntry.parse(JSON.parse(JSON.stringify(textStep(before, after))));
      expect(replayText(before, step)).toBe(after);
    }),
    { seed: 51, numRuns: 500 },
  );
  expect(replayText('x', ['-'])).toBe('x');
});
