import { expect, test } from 'vitest';
import type { Change } from '../changes/change.ts';
import type { PileRow } from '../contract/shapes.ts';
import { withWrites } from './with-writes.ts';

const row = (over: Partial<PileRow>) =>
  ({
    place: 'in',
    handInNumber: 1,
    grade: null,
    typed: null,
    computed: null,
    gradeVersion: null,
    doneVersion: null,
    ...over,
  }) as PileRow;
const write = (field: string, value: unknown, was: unknown, id = 'c') =>
  ({ id, base: null, type: 'write', field, value, was }) as unknown as Change;

test('a grade typed into an untouched copy is shown, and the copy is being marked', () => {
  expect(withWrites(row({}), [write('grade', 850, null)])).toMatchObject({
    grade: 850,
    gradeVersion: 'c',
    place: 'being-marked',
  });
});

test('called marked and not marked again; the last write of a cell counts', () => {
  const marked = withWrites(row({ place: 'in-again', handInNumber: 2 }), [write('done', true, false, 'd')]);
  expect(marked).toMatchObject({ place: 'marked', doneVersion: 'd' });
  expect(withWrites(marked, [write('done', false, true, 'e')]).place).toBe('being-marked');
  expect(withWrites(marked, [write('grade', 700, null, 'f'), write('grade', 750, 700, 'g')])).toMatchObject({
    grade: 750,
    gradeVersion: 'g',
    place: 'marked',
  });
});

test('nothing of the slip: the very same line', () => {
  const line = row({});
  expect(withWrites(line, [])).toBe(line);
  expect(withWrites(line, [write('closing', 'Well done', '')])).toBe(line);
});

test('a typed grade that is taken away leaves the computed one', () => {
  const typed = row({ grade: 850, typed: 850, computed: 700 });
  expect(withWrites(typed, [write('grade', null, 850)])).toMatchObject({ grade: 700, typed: null });
});
