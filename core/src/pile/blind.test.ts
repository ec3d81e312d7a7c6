import { expect, test } from 'vitest';
import { makeId } from '../index.ts';
import { blindName, realName, registerName, type SeenName, seenName } from './blind.ts';

const copyId = makeId(Date.UTC(2026, 10, 26), new Uint8Array([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]));
const students = [{ given: 'Ada', family: 'Stone' }];

test('a copy that is marked blind is seen by its code, another by its student', () => {
  expect(seenName({ copyId, students, blind: true })).toEqual(blindName(copyId));
  expect(JSON.stringify(blindName(copyId))).not.toMatch(/Ada|Stone/);
  expect(seenName({ copyId, students, blind: false })).toEqual(students[0]);
});

test('an answer that does not ask whether a copy is blind does not compile', () => {
  // @ts-expect-error a name as it is is none as it is seen
  const real: SeenName = realName(students);
  // @ts-expect-error whether the copy is blind must be said
  const unasked = seenName({ copyId, students });
  expect([real, unasked]).toHaveLength(2);
});

test('a group is called as one says it; two who are called the same keep their family names', () => {
  const of = (...names: [string, string][]) => realName(names.map(([given, family]) => ({ given, family })));
  expect(of(['Ada', 'Stone'], ['Ben', 'Lee'])).toEqual({ given: 'Ada and Ben', family: '' });
  expect(of(['Ada', 'Stone'], ['Ben', 'Lee'], ['Ada', 'Wood']).given).toBe('Ada Stone, Ben and Ada Wood');
  expect(of(['Ada', 'Stone'])).toEqual({ given: 'Ada', family: 'Stone' });
  expect([
    registerName({ given: 'Ada', family: 'Stone' }),
    registerName(of(['Ada', 'S'], ['Ben', 'L'])),
  ]).toEqual(['Stone, Ada', 'Ada and Ben']);
});
