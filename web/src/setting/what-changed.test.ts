import type { AssignmentWords } from '@jotmark/core';
import { expect, test } from 'vitest';
import { savedSentence, whatChanged } from './what-changed.ts';

const words = {
  title: 'Maps',
  instructions: { v: 1, blocks: [] },
  category: '',
  unit: '',
  most: 1000,
  dueAt: 1,
  handsIn: true,
} as unknown as AssignmentWords;
const moment = (at: number) => `day ${at}`;

test('an edit says what students see of it', () => {
  expect(savedSentence(whatChanged(words, words, moment), false)).toBe(
    'Saved. Nothing changes for students.',
  );
  const moved = whatChanged(words, { ...words, dueAt: 2 }, moment);
  expect(savedSentence(moved, false)).toBe('Saved. Students see due day 2 instead of due day 1.');
  const more = whatChanged(words, { ...words, title: 'The map', dueAt: null, most: null }, moment);
  expect(savedSentence(more, true)).toBe(
    'Saved. Students see the new title, no due date instead of due day 1 and ungraded instead of 10 points. They are told what you wrote.',
  );
});
