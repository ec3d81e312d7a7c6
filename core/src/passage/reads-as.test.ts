import { expect, test } from 'vitest';
import { readsAs } from './reads-as.ts';

test.each([
  [0x41, 'A'],
  [0x1f600, '😀'],
  [0xe9, 'é'],
  [0xf0b7, '•'],
  [0xf0fc, '✓'],
])('%d reads as %s', (code, text) => {
  expect(readsAs(code)).toBe(text);
});

test.each([0, 9, 32, 0xfffe, 0xe000, 0xf8ff, 0xf04a])('%d is nothing that can be read', (code) => {
  expect(readsAs(code)).toBeNull();
});
