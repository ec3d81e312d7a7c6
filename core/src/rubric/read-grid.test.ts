import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import { readCsv, writeCsv } from '../table/csv.ts';
import { cellName, readHead, readWeight } from './cells.ts';
import { rubricOf } from './draft.ts';
import { type DraftCriterion, type ReadGrid, readGrid } from './read-grid.ts';
import { writeGrid } from './write-grid.ts';

const rows = (text: string): string[][] =>
  text
    .trim()
    .split('\n')
    .map((line) => line.split('|').map((c) => c.trim()));
const read = (text: string, said?: Parameters<typeof readGrid>[1]) => readGrid({ cells: rows(text) }, said);
const good = (r: ReadGrid) => {
  if (!r.ok) throw new Error(`not read: ${r.reason}`);
  return r;
};
const shape = (criteria: readonly DraftCriterion[]) =>
  criteria.map((c) => [c.name, c.weight, c.levels.map((l) => [l.name, l.points, l.descriptor])]);

test('a column of points beside what is named in lines tells that the lines are levels', () => {
  const cells = [
    ['', 'Points', 'Describes'],
    ['Begins', '1', 'A list'],
    ['Can', '2', 'One can follow'],
  ];
  const read = readGrid({ cells });
  expect(read).toMatchObject({ ok: true, understood: { criteria: 'across', points: 'line' } });
});

describe('the usual grids', () => {
  test('criteria down, levels across, points in the heads, with weights and a name above', () => {
    const r = good(
      read(`
        Telling a walk |  |  |
        Criterion | Weight | Not yet (1) | Can (3)
        Describes the way | × 3 | A list of places. | One can follow.
        Measures | 2 | No numbers. | Numbers with unit.`),
    );
    expect(r.name).toBe('Telling a walk');
    expect(r.understood).toEqual({ criteria: 'down', points: 'heads', bestFirst: false, weights: true });
    expect(shape(r.criteria)).toEqual([
      [
        'Describes the way',
        300,
        [
          ['Not yet', 100, 'A list of places.'],
          ['Can', 300, 'One can follow.'],
        ],
      ],
      [
        'Measures',
        200,
        [
          ['Not yet', 100, 'No numbers.'],
          ['Can', 300, 'Numbers with unit.'],
        ],
      ],
    ]);
    expect(r.troubles).toEqual([]);
  });

  test('levels down, criteria across, best first, points in the first column', () => {
    const r = good(
      read(`
         | Evidence | Judgement
        4 – strong | Several lines | Weighs both
        2 – fair | One line | Says one
        0 – none | – | Nothing`),
    );
    expect(r.understood).toEqual({ criteria: 'across', points: 'heads', bestFirst: true, weights: false });
    expect(shape(r.criteria)).toEqual([
      [
        'Evidence',
        100,
        [
          ['fair', 200, 'One line'],
          ['strong', 400, 'Several lines'],
        ],
      ],
      [
        'Judgement',
        100,
        [
          ['none', 0, 'Nothing'],
          ['fair', 200, 'Says one'],
          ['strong', 400, 'Weighs both'],
        ],
      ],
    ]);
  });

  test('points in the cells, different ones for each criterion, decimals with a comma', () => {
    const r = good(
      read(`
        Skill | Low | Middle | High
        Map | 0: no map | 1,5: some | 3: all of it
        Words | 0: few | 1: some | 2: clear`),
    );
    expect(r.understood.points).toBe('cells');
    expect(shape(r.criteria)[0]).toEqual([
      'Map',
      100,
      [
        ['Low', 0, 'no map'],
        ['Middle', 150, 'some'],
        ['High', 300, 'all of it'],
      ],
    ]);
  });

  test('points in a line of their own below the heads', () => {
    const r = good(read('Criteria | Weak | Good\nPoints | 2 | 5\nLogic | jumps | holds'));
    expect(r.understood.points).toBe('line');
    expect(shape(r.criteria)).toEqual([
      [
        'Logic',
        100,
        [
          ['Weak', 200, 'jumps'],
          ['Good', 500, 'holds'],
        ],
      ],
    ]);
  });

  test('levels without points are standards', () => {
    const r = good(read('Criteria | Beginning | Secure\nReads | a word | a page'));
    expect(r.understood.points).toBe('none');
    expect(r.criteria[0]!.levels.map((l) => l.points)).toEqual([null, null]);
  });

  test('what was understood can be said otherwise', () => {
    const text = ' | A | B\nC | 1 | 2\nD | 3 | 4';
    expect(good(read(text, { criteria: 'down' })).criteria.map((c) => c.name)).toEqual(['C', 'D']);
    expect(good(read(text, { criteria: 'across' })).criteria.map((c) => c.name)).toEqual(['A', 'B']);
    const turned = good(read('Criteria | Good | Poor\nA | x | y', { bestFirst: true }));
    expect(turned.criteria[0]!.levels.map((l) => l.name)).toEqual(['Poor', 'Good']);
  });
});

describe('what is wrong is named by its cell', () => {
  test('words for points, no points, no weight, no name, a name twice', () => {
    const r = good(
      read(`
        Criterion | Weight | One (1) | two | Three (3)
        A | lots | a | three | c
        A | 1 | a | b | c
         | 1 | a | b | c`),
    );
    expect(r.troubles.map((t) => [t.cell, t.what, t.said])).toEqual([
      ['D1', 'number-word', 'two'],
      ['D2', 'number-word', 'three'],
      ['B2', 'no-weight', 'lots'],
      ['A3', 'same-name', 'A'],
      ['A4', 'no-name', ''],
    ]);
    expect(r.criteria[0]!.levels[1]!.descriptor).toBe('three');
  });

  test('ragged rows are filled up, empty columns are nothing, merged cells and formulas are told', () => {
    const r = good(
      readGrid({
        cells: [
          ['Criterion', '', 'Low (1)', 'High (2)'],
          ['A', '', 'x'],
          ['B', '', 'y', 'z'],
        ],
        special: [
          { column: 2, row: 1, is: 'merged' },
          { column: 3, row: 2, is: 'formula' },
        ],
      }),
    );
    expect(shape(r.criteria)[0]).toEqual([
      'A',
      100,
      [
        ['Low', 100, 'x'],
        ['High', 200, ''],
      ],
    ]);
    expect(r.troubles.map((t) => [t.cell, t.what])).toEqual([
      ['C2', 'merged'],
      ['D3', 'formula'],
    ]);
  });

  test.each([
    ['empty', [[''], ['', ' ']]],
    ['no-table', [['a'], ['b'], ['c']]],
    ['too-wide', [Array.from({ length: 100 }, (_, i) => `c${i}`)]],
    ['too-long', Array.from({ length: 200 }, (_, i) => [`r${i}`, 'x'])],
  ])('%s is no rubric', (reason, cells) => {
    expect(readGrid({ cells })).toEqual({ ok: false, reason });
  });

  test('a text longer than may be is cut and told', () => {
    const r = good(
      readGrid({
        cells: [
          ['Criterion', 'Low (1)', 'High (2)'],
          ['A', 'x'.repeat(5000), 'y'],
        ],
      }),
    );
    expect(r.troubles).toMatchObject([{ cell: 'B2', what: 'too-long' }]);
    expect(r.criteria[0]!.levels[0]!.descriptor.length).toBe(4000);
  });
});

test.each([
  ['Can (3)', 'Can', 300],
  ['3', '', 300],
  ['3 points', '', 300],
  ['3½ pts', '', 350],
  ['Can well: 4', 'Can well', 400],
  ['4 = Can well', 'Can well', 400],
  ['Level 2', 'Level 2', null],
  ['Very good', 'Very good', null],
])('the head "%s"', (text, words, points) => {
  expect(readHead(text)).toEqual({ words, points });
});

test('weights and names of cells', () => {
  expect(['× 3', 'x2', '1,5', '30 %', 'lots', '2 times'].map(readWeight)).toEqual([
    300,
    200,
    150,
    3000,
    null,
    200,
  ]);
  expect([cellName(3, 1), cellName(26, 0), cellName(701, 9)]).toEqual(['D2', 'AA1', 'ZZ10']);
});

test('a rubric written out and read again, as a table and as CSV, is the same', () => {
  const word = fc.stringMatching(/^[A-Za-zäß=+][A-Za-zäß ]{0,12}[a-zäß]$/);
  const level = (i: number) =>
    fc.record({ name: word, descriptor: fc.oneof(fc.constant(''), word), points: fc.constant(i * 100 + 50) });
  const levels = fc.tuple(level(0), level(1), level(2));
  const rubric = fc.uniqueArray(fc.record({ name: word, weight: fc.integer({ min: 1, max: 900 }), levels }), {
    minLength: 1,
    maxLength: 6,
    selector: (c) => c.name,
  });
  let n = 1;
  fc.assert(
    fc.property(rubric, word, fc.boolean(), (criteria, name, alike) => {
      const heads = criteria[0]!.levels;
      const drafts = alike
        ? criteria.map((c) => ({
            ...c,
            levels: c.levels.map((l, i) => ({ ...l, name: heads[i]!.name, points: heads[i]!.points })),
          }))
        : criteria;
      const written = writeGrid(
        rubricOf(drafts, () => testId(n++)),
        name,
      );
      expect(good(readGrid({ cells: written })).criteria).toEqual(drafts);
      const back = good(readGrid({ cells: readCsv(writeCsv(written), 100).cells }));
      expect(back.criteria).toEqual(drafts);
      expect(back.name).toBe(name);
      expect(back.troubles).toEqual([]);
    }),
    { seed: 18 },
  );
});
