import type { PileRow } from '@jotmark/core';
import { expect, test } from 'vitest';
import { byName } from './PileStrip.tsx';

const row = (given: string, family: string) => ({ student: { given, family } }) as PileRow;
const rows = [
  row('Inés', 'Castellano-Ruiz'),
  row('Tove', 'Bäcklund'),
  row('Ada', 'van der Berg'),
  row('K7', ''),
];
const found = (typed: string) => byName(rows, typed).map((r) => r.student.given);

test('a copy is found by the beginning of any part of a name, without marks over letters, in any order', () => {
  expect(found('')).toHaveLength(4);
  expect(found('ines')).toEqual(['Inés']);
  expect(found('RUIZ in')).toEqual(['Inés']);
  expect(found('back')).toEqual(['Tove']);
  expect(found('berg')).toEqual(['Ada']);
  // A blind pile has codes.
  expect(found('k7')).toEqual(['K7']);
  expect(found('erg')).toEqual([]);
});
