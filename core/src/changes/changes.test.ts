import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { ChangeId, MarkId } from '../ids/id.ts';
import { document, play, steps, testId, valuesOf } from './arbitrary.ts';
import { Change, invertChange, subjectOf } from './change.ts';
import { judge } from './judge.ts';
import { applyAll, applyChange, EMPTY_SHEET, same, standingMarks, stillStands, versionOf } from './sheet.ts';

const json = <T>(value: T): T => JSON.parse(JSON.stringify(value));

/** Freezes all the way down, so that a change that writes into its sheet throws. */
function freeze<T>(value: T): T {
  if (typeof value === 'object' && value !== null && !Object.isFrozen(value)) {
    Object.freeze(value);
    Object.values(value).forEach(freeze);
    if (value instanceof Map) value.forEach(freeze);
  }
  return value;
}

describe('a change', () => {
  test('applied and taken back shows the same sheet, also through JSON', () => {
    fc.assert(
      fc.property(steps, (list) => {
        const { sheet, changes } = play(EMPTY_SHEET, list);
        const last = changes.at(-1)!;
        const before = freeze(applyAll(EMPTY_SHEET, changes.slice(0, -1)));
        expect(valuesOf(applyChange(before, last))).toEqual(valuesOf(sheet));
        const inverse = invertChange(last, testId<ChangeId>(5001), last.id)!;
        const again = invertChange(inverse, testId<ChangeId>(5002), inverse.id)!;
        for (const c of [last, inverse, again]) expect(Change.parse(json(c))).toEqual(c);
        expect(valuesOf(applyChange(sheet, json(inverse)))).toEqual(valuesOf(before));
        expect(valuesOf(applyAll(before, [last, inverse, again]))).toEqual(valuesOf(sheet));
      }),
      { seed: 20261125, numRuns: 300 },
    );
  });

  test('all at once give what they give one by one, also when some come twice', () => {
    fc.assert(
      fc.property(steps, fc.nat(), (list, from) => {
        const { changes } = play(EMPTY_SHEET, list);
        const twice = [...changes, ...changes.slice(from % changes.length)];
        const start = freeze(applyAll(EMPTY_SHEET, changes.slice(0, from % changes.length)));
        void expect(applyAll(start, twice)).toEqual(twice.reduce(applyChange, start));
        expect(
          applyAll(
            start,
            changes.slice(-1).filter((c) => start.marks.get(subjectOf(c) as MarkId)?.version === c.id),
          ),
        ).toBe(start);
      }),
      { seed: 7, numRuns: 200 },
    );
  });

  test('a whole sitting undone in reverse order leaves nothing', () => {
    fc.assert(
      fc.property(steps, (list) => {
        let { sheet, changes } = play(EMPTY_SHEET, list);
        changes = changes.toReversed();
        changes.forEach((c, i) => {
          expect(stillStands(sheet, c)).toBe(true);
          sheet = applyChange(
            sheet,
            invertChange(c, testId<ChangeId>(9000 + i), versionOf(sheet, subjectOf(c)))!,
          );
        });
        expect(valuesOf(sheet)).toEqual(valuesOf(EMPTY_SHEET));
      }),
      { seed: 42, numRuns: 200 },
    );
  });

  test('applied a second time gives back the very same sheet', () => {
    fc.assert(
      fc.property(steps, (list) => {
        const { sheet, changes } = play(EMPTY_SHEET, list);
        expect(applyChange(sheet, changes.at(-1)!)).toBe(sheet);
      }),
      { seed: 1 },
    );
  });

  test('is judged by its base: right is applied, wrong is a conflict, known counts once', () => {
    const change: Change = {
      id: testId(7),
      base: testId(6),
      type: 'write',
      field: 'grade',
      value: 800,
      was: 700,
    };
    expect(judge(change, testId(6), false)).toBe('apply');
    expect(judge(change, testId(5), false)).toBe('conflict');
    expect(judge(change, null, false)).toBe('conflict');
    expect(judge(change, testId(7), true)).toBe('already');
  });

  test('that another has written over no longer stands, so undo leaves it alone', () => {
    const mine: Change = {
      id: testId(7),
      base: null,
      type: 'write',
      field: 'closing',
      value: 'Well done',
      was: '',
    };
    const theirs: Change = {
      id: testId(8),
      base: testId(7),
      type: 'write',
      field: 'closing',
      value: 'Good',
      was: 'Well done',
    };
    expect(stillStands(applyAll(EMPTY_SHEET, [mine]), mine)).toBe(true);
    expect(stillStands(applyAll(EMPTY_SHEET, [mine, theirs]), mine)).toBe(false);
  });
});

describe('the sheet', () => {
  const put = (n: number, page: number): Change => ({
    id: testId(n + 50),
    base: null,
    type: 'put',
    was: null,
    mark: {
      v: 2,
      id: testId<MarkId>(n),
      document,
      page,
      colour: 'lake',
      focus: null,
      madeAt: n,
      kind: 'note',
      place: { on: 'spot', x: 1, y: 2 },
      words: `note ${n}`,
    },
  });

  test('gives its marks in the order they were made', () => {
    const sheet = applyAll(EMPTY_SHEET, [put(3, 0), put(1, 0), put(2, 1)]);
    expect(standingMarks(sheet).map((m) => m.madeAt)).toEqual([1, 2, 3]);
  });

  test('equality looks at values, not at the order of keys', () => {
    expect(same({ a: 1, b: [1, { c: null }] }, { b: [1, { c: null }], a: 1 })).toBe(true);
    expect(same({ a: 1 }, { a: 1, b: undefined })).toBe(false);
    expect(same([1, 2], [1, 2, 3])).toBe(false);
    expect(same(null, {})).toBe(false);
  });
});

describe('what the schema refuses', () => {
  const good = play(EMPTY_SHEET, [
    {
      n: 0,
      act: 4,
      grade: null,
      closing: '',
      mark: {
        v: 2,
        id: testId<MarkId>(5),
        document,
        page: 0,
        colour: 'garnet',
        focus: null,
        madeAt: 1,
        kind: 'ink',
        points: [1, 2, 3],
        width: 1,
      },
    },
  ]).changes[0]!;
  const bad = (over: object) =>
    Change.safeParse({ ...good, mark: { ...(good as { mark: object }).mark, ...over } }).success;

  test('takes the good one', () => expect(Change.safeParse(good).success).toBe(true));
  test.each([
    ['half a point', { points: [1, 2] }],
    ['no point', { points: [] }],
    ['NaN', { points: [Number.NaN, 2, 3] }],
    ['a fraction', { points: [1.5, 2, 3] }],
    ['far off the page', { points: [9_000_000, 2, 3] }],
    ['pressure over 255', { points: [1, 2, 256] }],
    ['no width', { width: 0 }],
    ['a page before the first', { page: -1 }],
    ['an unknown ink', { colour: 'green' }],
    ['another version', { v: 3 }],
    ['a kind we do not know', { kind: 'sticker' }],
    ['an id that is none', { id: 'x' }],
  ])('%s', (_, over) => expect(bad(over)).toBe(false));
});
