import { expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { CopyId, QuestionId } from '../ids/id.ts';
import type { SeenName } from '../pile/blind.ts';
import { AWAY_MS, answeredIn, inRoomOrder, isHere, missesKey, type RoomRow, silenceOf } from './room.ts';

const [one, two] = [testId<QuestionId>(1), testId<QuestionId>(2)];
let n = 10;
const row = (family: string, more: Partial<RoomRow> = {}): RoomRow => ({
  copyId: testId<CopyId>(n++),
  student: { given: 'A', family } as SeenName,
  place: 'with-student',
  excused: false,
  hereAt: 4000,
  workedAt: null,
  atQuestion: null,
  answers: [],
  strokes: 0,
  unread: 0,
  ...more,
});
const answer = (question: QuestionId) => ({ question, text: 'x', letters: 1 });
const rows = [
  row('Cy', { answers: [answer(one)], workedAt: 5000 }),
  row('Ada', { answers: [answer(one), answer(two)], workedAt: 1000 }),
  row('Dee', { place: 'in', workedAt: 0 }),
  row('Ben'),
];
const order = (by: 'name' | 'progress' | 'silence') =>
  inRoomOrder(rows, by, [one, two]).map((r) => r.student.family);

test('the room is looked at by name, by who has least, or by who is silent longest', () => {
  expect(order('name')).toEqual(['Ada', 'Ben', 'Cy', 'Dee']);
  expect(order('progress')).toEqual(['Ben', 'Cy', 'Ada', 'Dee']);
  expect(order('silence')).toEqual(['Ben', 'Ada', 'Cy', 'Dee']);
});

test('an answer that misses its key is told, one seen only in part is not; who misses most comes first', () => {
  const keys = {
    [one]: { of: 'wordings' as const, accepted: ['X'] },
    [two]: { of: 'wordings' as const, accepted: ['y'] },
  };
  expect(rows.map((r) => missesKey(r, keys, [one, two]))).toEqual([[], [two], [], []]);
  const part = row('Part', { answers: [{ question: two, text: 'x', letters: 300 }] });
  expect(missesKey(part, keys, [two])).toEqual([]);
  expect(inRoomOrder(rows, 'key', [one, two], keys).map((r) => r.student.family)).toEqual([
    'Ada',
    'Ben',
    'Cy',
    'Dee',
  ]);
});

test('who was not heard of for a while is away', () => {
  expect([
    isHere(rows[0]!, 5000),
    isHere(rows[0]!, 4000 + AWAY_MS),
    isHere(rows[0]!, 5000 + AWAY_MS),
    isHere(row('X', { hereAt: null, workedAt: 0 }), 0),
  ]).toEqual([true, true, false, false]);
});

test('progress counts the questions asked about, silence only who still works', () => {
  expect(rows.map((r) => answeredIn(r, [two]))).toEqual([0, 1, 0, 0]);
  expect(rows.map((r) => silenceOf(r, 6000))).toEqual([1000, 5000, null, null]);
  // A clock that was set back says nothing below zero.
  expect(silenceOf(rows[0]!, 0)).toBe(0);
});
