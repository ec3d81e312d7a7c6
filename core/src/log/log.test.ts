import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { AssignmentId, CopyId, MarkId, RemarkId } from '../ids/id.ts';
import { comesAgain, doneWith, focusRows, phraseKey } from './again.ts';
import type { LogBack, LogEntry, LogNote } from './entry.ts';
import { filterLog, logChoices, WHOLE_LOG } from './filter.ts';

const DAY = 86_400_000;
const note = (words: string, more: Partial<LogNote> = {}): LogNote => ({
  mark: testId<MarkId>(1),
  words,
  suggestion: false,
  spoken: false,
  focus: null,
  colour: 'garnet',
  sign: 'disc',
  act: null,
  done: false,
  actAt: null,
  answer: '',
  ...more,
});
const work = (day: number, notes: LogNote[], more: Partial<LogBack> = {}): LogBack => ({
  of: 'work',
  at: day * DAY,
  assignmentId: testId<AssignmentId>(day),
  copyId: testId<CopyId>(day),
  title: `Work ${day}`,
  category: 'homework',
  unit: 'Maps',
  handIn: 1,
  held: false,
  grade: null,
  most: null,
  scale: { kind: 'points' },
  levels: [],
  closing: '',
  voice: null,
  notes,
  reflected: '',
  ...more,
});
const remark: LogEntry = {
  of: 'remark',
  id: testId<RemarkId>(1),
  at: 5 * DAY,
  by: 'Ms Quill',
  mine: true,
  words: 'Well explained.',
  work: 'extra help',
  strand: 'speaking',
  answers: [],
};

describe('what comes again', () => {
  test('a phrase however it ends, in two pieces of work; what is in neither of the two newest has stopped', () => {
    const entries = [
      work(1, [note('Give the unit.', { focus: 'method' }), note('Give the unit')]),
      work(2, [note('“give the  Unit”', { focus: 'method', done: true }), note('Only once.')]),
      work(3, [note('Steps are not metres')]),
      work(4, [note('Steps are not metres.')]),
    ];
    expect(comesAgain(entries)).toEqual([
      {
        what: 'phrase',
        words: '“give the  Unit”',
        times: 3,
        works: 2,
        lastAt: 2 * DAY,
        open: 2,
        stopped: true,
      },
      {
        what: 'phrase',
        words: 'Steps are not metres.',
        times: 2,
        works: 2,
        lastAt: 4 * DAY,
        open: 2,
        stopped: false,
      },
      { what: 'focus', words: 'method', times: 2, works: 2, lastAt: 2 * DAY, open: 1, stopped: true },
    ]);
  });

  test('what is held, suggestions and very short words are none; of two pieces of work nothing has stopped', () => {
    const swap = note('“a” → “the”', { suggestion: true });
    expect(comesAgain([work(1, [swap, note('ok')]), work(2, [swap, note('ok')])])).toEqual([]);
    expect(
      comesAgain([work(1, [note('Count again')]), work(2, [note('Count again')], { held: true })]),
    ).toEqual([]);
    const [only] = comesAgain([work(1, [note('Count again')]), work(2, [note('Count again')])]);
    expect(only!.stopped).toBe(false);
  });

  test('for any log: at least two pieces of work, never more than there are, and the order of the entries does not matter', () => {
    const any = fc.array(
      fc.tuple(
        fc.nat(30),
        fc.array(fc.constantFrom('Give the unit', 'Count again', 'Say why'), { maxLength: 4 }),
      ),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(any, (all) => {
        const entries = all.map(([day, words], i) =>
          work(
            day + i * 40,
            words.map((w) => note(w)),
          ),
        );
        const found = comesAgain(entries);
        for (const c of found) {
          expect(c.works).toBeGreaterThan(1);
          expect(c.works).toBeLessThanOrEqual(entries.length);
          expect(c.times).toBeGreaterThanOrEqual(c.works);
        }
        expect(comesAgain([...entries].reverse())).toEqual(found);
      }),
    );
  });
});

test('what was done with it: 2 of 3 notes, after 1 and 3 days; a suggestion taken, one declined', () => {
  const entries = [
    work(1, [
      note('a', { done: true, act: 'sorted', actAt: 2 * DAY }),
      note('b', { suggestion: true, done: true, act: 'declined', actAt: 4 * DAY }),
      note('c', { suggestion: true, act: 'accepted' }),
    ]),
    remark,
  ];
  expect(doneWith(entries)).toEqual({
    notes: 3,
    done: 2,
    days: 2,
    suggestions: { taken: 1, declined: 1, all: 2 },
  });
  expect(doneWith([])).toMatchObject({ notes: 0, days: null });
});

test('what notes were about, work by work', () => {
  const rows = focusRows([
    work(2, [note('x', { focus: 'wording' })]),
    work(1, [note('y', { focus: 'method' }), note('z', { focus: 'method' })]),
  ]);
  expect(rows.map((r) => [r.name, r.count, r.by])).toEqual([
    ['method', 2, [2, 0]],
    ['wording', 1, [0, 1]],
  ]);
});

describe('looking at a part of a log', () => {
  const entries = [
    work(1, [note('y', { focus: 'method' }), note('z')]),
    work(2, [note('x')], { category: 'test', unit: 'Tides' }),
    remark,
  ];
  test('by unit, kind of work, strand and focus', () => {
    const days = (filter: object) => filterLog(entries, { ...WHOLE_LOG, ...filter }).map((e) => e.at / DAY);
    expect(days({})).toEqual([1, 2, 5]);
    expect(days({ unit: 'Tides' })).toEqual([2]);
    expect(days({ work: 'extra help' })).toEqual([5]);
    expect(days({ strand: 'speaking' })).toEqual([5]);
    expect(filterLog(entries, { ...WHOLE_LOG, focus: 'method' })).toMatchObject([
      { notes: [{ words: 'y' }] },
    ]);
    expect(days({ unit: 'Maps', work: 'test' })).toEqual([]);
  });
  test('what one can choose from is what is there', () => {
    expect(logChoices(entries)).toEqual({
      units: ['Maps', 'Tides'],
      works: ['extra help', 'homework', 'test'],
      strands: ['speaking'],
      focuses: ['method'],
    });
  });
});

test.each([
  ['Give the unit.', 'give the unit'],
  ['  “Give   the unit”! ', 'give the unit'],
  ['Nguyễn', 'nguyễn'],
])('%j is held against others as %j', (words, key) => expect(phraseKey(words)).toBe(key));
