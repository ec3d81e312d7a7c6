import { expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import { applyAll, EMPTY_SHEET } from '../changes/sheet.ts';
import { plainScoring } from '../grade/scoring.ts';
import type { ChangeId, MarkId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { freezeMarking, Snapshot } from './snapshot.ts';

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

test('what is handed back holds the standing marks, the grade and the words, and no empty note or rubbed-out mark', () => {
  const change = (n: number) => testId<ChangeId>(n);
  const sheet = applyAll(EMPTY_SHEET, [
    { id: change(11), base: null, type: 'put', mark: note(1, 'Count again'), was: null },
    { id: change(12), base: null, type: 'put', mark: note(2, '  '), was: null },
    { id: change(13), base: null, type: 'put', mark: note(3, 'wrong'), was: null },
    { id: change(14), base: change(13), type: 'remove', of: note(3, 'wrong').id, was: note(3, 'wrong') },
    { id: change(15), base: null, type: 'write', field: 'grade', value: 850, was: null },
    { id: change(16), base: null, type: 'write', field: 'closing', value: ' Well read. ', was: '' },
  ]);
  const snapshot = freezeMarking(sheet, {
    by: { most: 1000, scoring: plainScoring(false), asked: [], rubric: null, late: 0 },
    midway: null,
    earlier: [],
    markedBy: 'Ms Quill',
    turns: { [document]: { 1: 90 } },
  });
  expect(snapshot).toEqual({
    v: 1,
    marks: [note(1, 'Count again')],
    grade: 850,
    most: 1000,
    closing: 'Well read.',
    markedBy: 'Ms Quill',
    turns: { [document]: { 1: 90 } },
  });
  expect(Snapshot.parse(JSON.parse(JSON.stringify(snapshot)))).toEqual(snapshot);
});

test('of ungraded work no number goes back: stamps and notes lose the points they were made with', () => {
  const change = (n: number) => testId<ChangeId>(n);
  const earns = { ...note(1, 'Count again'), points: -50 } as Mark;
  const stamp = {
    ...{ v: 2, id: testId<MarkId>(2), document, page: 0, colour: 'garnet', focus: null, madeAt: 2 },
    ...{ kind: 'stamp', x: 10, y: 20, size: 20, turn: 0, look: { of: 'sign', sign: 'tick' }, points: 100 },
  } as Mark;
  const sheet = applyAll(EMPTY_SHEET, [
    { id: change(11), base: null, type: 'put', mark: earns, was: null },
    { id: change(12), base: null, type: 'put', mark: stamp, was: null },
  ]);
  const back = (most: number | null) =>
    freezeMarking(sheet, {
      by: { most, scoring: plainScoring(false), asked: [], rubric: null, late: 0 },
      midway: null,
      earlier: [],
      markedBy: 'Ms Quill',
      turns: {},
    }).marks;
  expect(back(1000)).toEqual([earns, stamp]);
  expect(back(null)).toEqual([note(1, 'Count again'), { ...stamp, points: null }]);
});
