import { describe, expect, test } from 'vitest';
import type { MarkBook } from '../contract/book-routes.ts';
import type { PileScores } from '../contract/score-shapes.ts';
import type { FeedbackLog } from '../log/entry.ts';
import { PLAIN_RULE } from '../mark-book/rule.ts';
import { gridLines, plainCell } from './grid.ts';
import { logGrids, markBookGrids, scoresGrid } from './grids.ts';

const book = {
  className: '7K',
  rule: PLAIN_RULE,
  students: [
    { id: 'p1', given: 'Ada', family: 'Stone' },
    { id: 'p2', given: 'Ben', family: '' },
  ],
  columns: [
    { id: 'w1', title: 'Map', category: 'test', unit: 'Maps', at: 0, most: 1000, scale: { kind: 'points' } },
    { id: 'w2', title: 'Talk', category: '', unit: '', at: 0, most: null, scale: { kind: 'points' } },
  ],
  cells: [
    { personId: 'p1', assignmentId: 'w1', place: 'handed-back', grade: 650, excused: false, missing: false },
    { personId: 'p2', assignmentId: 'w1', place: 'with-student', grade: null, excused: true, missing: false },
    { personId: 'p1', assignmentId: 'w2', place: 'with-student', grade: null, excused: false, missing: true },
  ],
} as unknown as MarkBook;

describe('tables that go out', () => {
  test('a mark book: numbers as numbers, excused in words, what it comes to at the end; where copies are', () => {
    const [grades, places, works] = markBookGrids(book);
    expect(grades).toEqual({
      name: 'Grades',
      head: ['Student', 'Map / 10', 'Talk', 'So far, %'],
      rows: [
        ['Stone, Ada', 6.5, null, 65],
        ['Ben', 'excused', null, null],
      ],
    });
    expect(places!.rows).toEqual([
      ['Stone, Ada', 'handed-back', 'missing'],
      ['Ben', 'excused', null],
    ]);
    expect(works!.rows[0]).toEqual(['Map', 'test', 'Maps', 10, '1970-01-01T00:00:00.000Z']);
  });

  test('scores: a column a question, a column a criterion with where one stands', () => {
    const scores = {
      scoring: {
        most: 1000,
        asked: [{ id: 'q1', label: '1', name: 'Scale', most: 300 }],
        rubric: {
          rubric: {
            criteria: [
              {
                id: 'c1',
                name: 'Method',
                weight: 100,
                levels: [{ id: 'l1', name: 'Begins', descriptor: '', points: 100 }],
              },
            ],
          },
        },
      },
      rows: [
        {
          student: { given: 'Ada', family: 'Stone' },
          place: 'marked',
          grade: 650,
          computed: 600,
          points: [{ question: 'q1', points: 250, typed: true }],
          scores: [
            {
              of: 'final:c1',
              version: null,
              score: { of: 'criterion', stands: { is: 'level', level: 'l1' }, words: '', had: [], at: 1 },
            },
          ],
        },
      ],
    } as unknown as PileScores;
    expect(scoresGrid(scores)).toMatchObject({
      head: ['Student', 'Status', 'Grade', 'Out of', 'Computed', 'Question 1: Scale / 3', 'Method'],
      rows: [['Stone, Ada', 'marked', 6.5, 10, 6, 2.5, '1']],
    });
  });

  test('every line of every table has as many cells as its head', () => {
    const log = {
      student: { given: 'Ada', family: 'Stone' },
      entries: [
        {
          of: 'work',
          at: 0,
          title: 'Map',
          category: '',
          unit: '',
          held: false,
          handIn: 2,
          grade: 100,
          most: 200,
          levels: [],
          closing: 'a',
          notes: [{ focus: null, words: 'n', act: null, answer: '', done: false }],
          reflected: '',
        },
        { of: 'remark', at: 0, words: 'r', work: '', strand: '', answers: [] },
      ],
    } as unknown as FeedbackLog;
    for (const grid of [...markBookGrids(book), ...logGrids([log])])
      for (const row of grid.rows) expect(row.length, grid.name).toBe(grid.head.length);
  });

  test.each([
    ['=1+1', "'=1+1"],
    ['+49 123', "'+49 123"],
    ['-', "'-"],
    ['@me', "'@me"],
    ['Ada', 'Ada'],
    [-2.5, '-2.5'],
    [null, ''],
  ])('%j stands in a CSV as %j', (cell, text) => {
    expect(plainCell(cell)).toBe(text);
    expect(gridLines({ name: '', head: ['a'], rows: [[cell]] })).toEqual([['a'], [text]]);
  });
});
