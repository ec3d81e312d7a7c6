import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { CriterionId, LevelId, MarkId, QuestionId } from '../ids/id.ts';
import { coverSheet } from './cover-sheet.ts';
import { gradeLines } from './grade-lines.ts';
import type { Snapshot } from './snapshot.ts';

const [begins, can] = [testId<LevelId>(1), testId<LevelId>(2)];
const criterion = {
  id: testId<CriterionId>(3),
  name: 'Method',
  weight: 100,
  levels: [
    { id: begins, name: 'Begins', descriptor: 'Counts some squares.', points: 100 },
    { id: can, name: 'Can', descriptor: 'Counts all squares.', points: 300 },
  ],
};
const snapshot: Snapshot = {
  v: 1,
  marks: [],
  grade: 650,
  most: 1000,
  closing: 'Well read.',
  markedBy: 'Ms Quill',
  turns: {},
  became: [{ mark: testId<MarkId>(4), words: 'Count again', verdict: 'again' }],
  reflect: 'What first?',
  scored: {
    scale: { kind: 'points' },
    lines: [
      { id: testId<QuestionId>(5), label: '1', name: 'Scale', points: 250, most: 300 },
      { id: testId<QuestionId>(6), label: '2', name: '', points: null, most: 200 },
    ],
    rubric: { name: 'Reading maps', criteria: [criterion] },
    rounds: [
      {
        round: 'final',
        words: '',
        scores: [
          {
            criterion: criterion.id,
            score: {
              of: 'criterion',
              stands: { is: 'level', level: begins },
              words: 'Look at the key.',
              had: [],
              at: 1,
            },
          },
        ],
      },
    ],
    parts: [{ of: 'tally', earned: 250, most: 500, share: 60 }],
    late: { days: 1, off: 50 },
  },
};
const sheetOf = (over: Partial<Snapshot>, graded = true) =>
  coverSheet({ ...snapshot, ...over }, { title: 'Map', under: 'Ada', graded });
const grade = (over: Partial<Snapshot>, graded = true) => sheetOf(over, graded).parts.at(-1)!.lines;

describe('the cover sheet', () => {
  test('says closing words first, then what became of notes, where one stands and what is next, the question, and the grade last', () => {
    expect(sheetOf({}).parts.map((p) => [p.heading, p.hand])).toEqual([
      ['', true],
      ['What became of your notes', false],
      ['Reading maps', false],
      ['To think about', false],
      ['How the grade came to be', false],
    ]);
    const { parts } = sheetOf({});
    expect(parts[1]!.lines).toEqual([{ text: 'Count again', value: 'still to do' }]);
    expect(parts[2]!.lines).toEqual([
      {
        text: '**Method**\nBegins: Counts some squares.\nLook at the key.\n*Next (Can):* Counts all squares.',
        value: '1',
      },
    ]);
    expect(parts[4]!.lines.map((l) => `${l.text} = ${l.value}`)).toEqual([
      'Question 1: Scale = 2½ / 3',
      'Question 2 = – / 2',
      '**Questions (60 % of the grade)** = 2½ / 5',
      '1 day late = −½',
      '**Grade** = 6½ / 10',
    ]);
  });

  test('has no parts for what was not said, and no grade of ungraded work', () => {
    const { became: _, reflect: __, scored: ___, ...bare } = snapshot;
    expect(
      coverSheet(
        { ...bare, closing: '', most: null, grade: null },
        { title: 'Map', under: 'Ada', graded: true },
      ),
    ).toEqual({
      title: 'Map',
      under: 'Ada',
      parts: [],
    });
    expect(gradeLines({})).toEqual([]);
  });

  test('without the grade there is no number on it that tells it, and it says when it comes', () => {
    expect(JSON.stringify(sheetOf({}, false))).not.toMatch(/6½|2½|"1"|60 %|late/);
    expect(grade({}, false)).toEqual([
      { text: 'Shown in Jotmark when all notes have been opened.', value: '' },
    ]);
    expect(grade({ unfinished: true, grade: null })).toEqual([
      { text: 'Still to come: the marking is not finished.', value: '' },
    ]);
  });

  test('an earlier hand-in that counts is said', () => {
    expect(grade({ counts: 800 }).at(-1)!.text).toBe(
      'An earlier hand-in counts, since it was better: 8 / 10.',
    );
  });
});
