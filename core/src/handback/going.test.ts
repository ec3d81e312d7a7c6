import { describe, expect, test } from 'vitest';
import { becameLines } from '../again/lines.ts';
import { document, testId } from '../changes/arbitrary.ts';
import { EMPTY_SHEET } from '../changes/sheet.ts';
import { plainScoring } from '../grade/scoring.ts';
import type { CriterionId, LevelId, MarkId, QuestionId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { closedOf, opens, toOpen, withoutGrade } from './opened.ts';
import { changedSince } from './since.ts';
import { freezeMarking, type Snapshot } from './snapshot.ts';
import { scoresToStartFrom } from './start.ts';

const note = (n: number, words: string): Mark => ({
  v: 2,
  id: testId<MarkId>(n),
  document,
  page: 0,
  colour: 'lake',
  focus: null,
  madeAt: n,
  kind: 'note',
  place: { on: 'spot', x: 10, y: 20 },
  words,
});
const ring = (n: number): Mark =>
  ({ ...note(n, ''), kind: 'ring', box: [0, 0, 9, 9], width: 1, words: undefined }) as unknown as Mark;
const snapshot = (over: Partial<Snapshot> = {}): Snapshot => ({
  v: 1,
  marks: [],
  grade: 700,
  most: 1000,
  closing: 'Good.',
  markedBy: 'Ms Quill',
  turns: {},
  ...over,
});
const question = testId<QuestionId>(5);
const scored: NonNullable<Snapshot['scored']> = {
  scale: { kind: 'points' },
  lines: [{ id: question, label: '1', name: '', points: 200, most: 300 }],
  rubric: null,
  rounds: [
    {
      round: 'final',
      words: '',
      scores: [
        {
          criterion: testId<CriterionId>(6),
          score: {
            of: 'criterion',
            stands: { is: 'level', level: testId<LevelId>(7) },
            words: '',
            had: [],
            at: 1,
          },
        },
      ],
    },
  ],
  parts: [{ of: 'tally', earned: 200, most: 300, share: 100 }],
  late: { days: 1, off: 10 },
};

describe('what changed since the hand-back before', () => {
  test('names marks that came, were changed and went, the grade, the words', () => {
    const before = snapshot({ marks: [note(1, 'a'), note(2, 'b')] });
    const now = snapshot({ marks: [note(1, 'a!'), note(3, 'c')], grade: 800, closing: 'Better.' });
    expect(changedSince(before, now)).toEqual({
      came: [testId(3)],
      changed: [testId(1)],
      went: 1,
      grade: { from: 700, to: 800 },
      closing: true,
      scores: false,
    });
  });
  test('is nothing where a student would see nothing else', () => {
    const same = snapshot({ marks: [note(1, 'a')] });
    expect(changedSince(same, structuredClone(same))).toBeNull();
  });
});

describe('a grade after reading', () => {
  const held = snapshot({
    marks: [note(1, 'a'), note(2, 'b'), ring(3)],
    gradeAfter: true,
    scored,
    computed: 650,
  });
  test('waits for whatever must be opened to be read, and for nothing else', () => {
    expect(held.marks.map(opens)).toEqual([true, true, false]);
    expect(toOpen(held)).toEqual([testId(1), testId(2)]);
    expect(toOpen(snapshot({ marks: held.marks }))).toEqual([]);
    expect(closedOf(held, new Set([testId<MarkId>(1)]))).toBe(1);
    expect(closedOf(held, new Set(toOpen(held)))).toBe(0);
  });
  test('leaves no number behind that would tell it', () => {
    const bare = withoutGrade({
      ...held,
      counts: 800,
      since: { came: [], changed: [], went: 0, grade: { from: 1, to: 2 }, closing: false, scores: true },
    });
    expect(bare).toMatchObject({
      grade: null,
      scored: { lines: [], parts: [], late: null },
      since: { grade: null },
    });
    expect(JSON.stringify(bare)).not.toMatch(/700|650|800|"earned"|"points":\d/);
    // The levels stay: they say where one stands.
    expect(bare.scored!.rounds).toEqual(scored.rounds);
  });
});

test('unfinished: words and marks without points, and no score of any kind', () => {
  const back = freezeMarking(EMPTY_SHEET, {
    by: { most: 1000, scoring: plainScoring(false), asked: [], rubric: null, late: 0 },
    earlier: [],
    midway: null,
    markedBy: 'Ms Quill',
    turns: {},
    how: { unfinished: true, gradeAfter: false, reflect: 'What first?' },
  });
  expect(back).toMatchObject({ unfinished: true, grade: null, reflect: 'What first?' });
  expect(back.scored).toBeUndefined();
});

test('the next hand-in starts from points and levels, and from no typed grade', () => {
  expect(scoresToStartFrom(snapshot({ scored }))).toEqual([
    [`question:${question}`, { of: 'question', points: 200 }],
    [`final:${testId(6)}`, scored.rounds[0]!.scores[0]!.score],
  ]);
  expect(scoresToStartFrom(snapshot())).toEqual([]);
});

test('what became of each note: as the teacher said, again where it stands again, nothing of what was let go', () => {
  const before = [note(1, 'Count **again**'), note(2, 'Why?'), note(3, 'Old'), note(4, 'Open')];
  const lines = becameLines(before, [note(2, 'Why?')], {
    [testId<MarkId>(1)]: 'dealt-with',
    [testId<MarkId>(3)]: 'let-go',
  });
  expect(lines).toEqual([
    { mark: testId(1), words: 'Count again', verdict: 'dealt-with' },
    { mark: testId(2), words: 'Why?', verdict: 'again' },
  ]);
});
