import { afterEach, expect, test } from 'vitest';
import { announce, dragWords, standsWords } from './drag-words.ts';

afterEach(() => document.getElementById('said-moves')?.remove());

test('where something stands is said in words', () => {
  expect(standsWords('Red pen', 3, 10)).toBe('Red pen is now fourth of ten');
  expect(standsWords('map.pdf', 11, 14)).toBe('map.pdf is now number 12 of 14');
});

test('a drag is told by names and places, never by ids', () => {
  const words = dragWords(
    new Map([
      ['a', 'map.pdf'],
      ['b', 'photo.jpg'],
    ]),
  );
  const at = (active: string, over: string | null) =>
    ({ active: { id: active }, over: over ? { id: over } : null }) as never;
  expect(words.onDragStart(at('a', null))).toBe('map.pdf is picked up.');
  expect(words.onDragOver(at('a', 'b'))).toBe('map.pdf is now second of two.');
  expect(words.onDragOver(at('a', null))).toBeUndefined();
  expect(words.onDragEnd(at('a', 'b'))).toBe('map.pdf is now second of two.');
  expect(words.onDragEnd(at('a', null))).toBe('map.pdf stays where it was.');
  expect(words.onDragCancel(at('b', null))).toBe('photo.jpg is back where it was.');
});

test('a move by keys is said as well, the newest alone', () => {
  announce('Red pen is now second of ten');
  announce('Red pen is now third of ten');
  const said = document.querySelectorAll('#said-moves');
  expect([said.length, said[0]!.textContent]).toEqual([1, 'Red pen is now third of ten']);
});
