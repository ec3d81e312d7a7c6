import type { MarkId, QuestionId, Sitting, TrailLine } from '@jotmark/core';
import { expect, test } from 'vitest';
import { lengthWords, sittingWords, stepWords } from './trail-words.ts';

const q = 'q' as QuestionId;
const numbers = new Map([[q, '3b']]);
const line = (subject: string, step: unknown) => ({ at: 0, subject, step }) as unknown as TrailLine;

test.each([
  [0, '1 minute'],
  [20_000, '1 minute'],
  [150_000, '3 minutes'],
  [89 * 60_000, '89 minutes'],
  [95 * 60_000, '2 hours'],
])('%s milliseconds are %s', (ms, words) => {
  expect(lengthWords(ms)).toBe(words);
});

test('a sitting says what came of it, and nothing of what did not happen', () => {
  const sitting = { added: 12, taken: 0, pasted: 0, strokes: 0 } as Sitting;
  expect(sittingWords(sitting)).toBe('12 letters written');
  expect(sittingWords({ ...sitting, taken: 3, pasted: 5, strokes: 1 })).toBe(
    '12 letters written · 3 deleted · 5 of them pasted · 1 stroke',
  );
});

test('a step is told by its question: written, pasted, taken away; a stroke by itself', () => {
  const before = new Map([[q, 'north of the hut']]);
  expect(stepWords(line(q, ['t', 0, 0, 'north']), numbers, new Map())).toBe('3b: “north” written');
  expect(stepWords(line(q, ['t', 0, 0, 'north', 5]), numbers, new Map())).toBe('3b: “north” pasted');
  expect(stepWords(line(q, ['t', 9, 7, '']), numbers, before)).toBe('3b: “the hut” deleted');
  expect(stepWords(line('m' as MarkId, ['+']), numbers, before)).toBe('a stroke drawn');
  expect(stepWords(line('m' as MarkId, ['-']), numbers, before)).toBe('a stroke erased');
});
