import type { PageText } from '@jotmark/core';
import { expect, test } from 'vitest';
import { moveCursor, rangeOf } from './word-cursor.ts';

const text: PageText = {
  words: [
    ['one', 0],
    ['two', 40],
    ['three', 80],
    ['four', 0],
    ['five', 60],
  ].map(([t, x], i) => ({
    text: t as string,
    box: [x as number, i < 3 ? 0 : 20, (x as number) + 30, i < 3 ? 10 : 30],
  })),
  lines: [
    { from: 0, to: 3, box: [0, 0, 110, 10], along: 'x' },
    { from: 3, to: 5, box: [0, 20, 90, 30], along: 'x' },
  ],
};

test('walks word by word and line by line and stays on the page', () => {
  let c = moveCursor(text, null, 'ArrowRight', false);
  expect(c).toEqual({ at: 0, from: 0 });
  c = moveCursor(text, c, 'ArrowLeft', false);
  expect(c?.at).toBe(0);
  c = moveCursor(text, { at: 2, from: 2 }, 'ArrowDown', false);
  expect(c?.at).toBe(4);
  expect(moveCursor(text, c, 'ArrowDown', false)?.at).toBe(4);
  expect(moveCursor(text, c, 'ArrowUp', false)?.at).toBe(1);
});

test('with Shift the range grows from where it was set down, either way', () => {
  const c = moveCursor(text, { at: 3, from: 3 }, 'ArrowLeft', true);
  expect(rangeOf(c!)).toEqual({ from: 2, to: 3 });
});

test('a scan has no words to walk', () => {
  expect(moveCursor({ words: [], lines: [] }, null, 'ArrowRight', false)).toBeNull();
});
