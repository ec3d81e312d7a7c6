import { expect, test } from 'vitest';
import type { TodayPile } from '../contract/shapes.ts';
import { type AssignmentId, type CopyId, makeId } from '../ids/id.ts';
import { orderToday, waitingIn } from './today.ts';

const DAY = 24 * 3_600_000;
const NOW = 1_764_000_000_000;
const pile = (title: string, more: Partial<TodayPile> & { dueAt?: number | null } = {}): TodayPile => ({
  assignment: {
    id: makeId(1, new Uint8Array(10)) as AssignmentId,
    title,
    className: '7b',
    dueAt: more.dueAt ?? null,
    most: 1000,
  },
  counts: {
    'with-student': 1,
    in: 0,
    'being-marked': 0,
    marked: 0,
    'handed-back': 0,
    'in-again': 0,
    ...more.counts,
  },
  overdue: 0,
  next: more.next ?? null,
  oldestWaiting: more.oldestWaiting ?? null,
  pace: null,
});
const counts = (part: object) => part as TodayPile['counts'];
const next = (begun: boolean) => ({
  copyId: makeId(2, new Uint8Array(10)) as CopyId,
  name: 'Ada',
  begun,
  page: 0,
});
const titles = (piles: readonly TodayPile[]) => piles.map((p) => p.assignment.title);

test('half marked comes before handed in again, that before the longest waiting', () => {
  const { waiting } = orderToday(
    [
      pile('new', { counts: counts({ in: 2 }), next: next(false), oldestWaiting: NOW - 1 }),
      pile('old', { counts: counts({ in: 1 }), next: next(false), oldestWaiting: NOW - 9 * DAY }),
      pile('again', { counts: counts({ 'in-again': 1 }), next: next(false), oldestWaiting: NOW - 2 }),
      pile('half', { counts: counts({ 'being-marked': 1, in: 3 }), next: next(true), oldestWaiting: NOW }),
    ],
    NOW,
  );
  expect(titles(waiting)).toEqual(['half', 'again', 'old', 'new']);
  expect(waitingIn(waiting[0]!)).toBe(4);
});

test('due soon is what comes within a week and is still with students', () => {
  const { soon, rest } = orderToday(
    [
      pile('in eight days', { dueAt: NOW + 8 * DAY }),
      pile('in three', { dueAt: NOW + 3 * DAY }),
      pile('tomorrow', { dueAt: NOW + DAY }),
      pile('gone by', { dueAt: NOW - 1 }),
      pile('all back', { dueAt: NOW + DAY, counts: counts({ 'with-student': 0, 'handed-back': 2 }) }),
      pile('no date'),
    ],
    NOW,
  );
  expect(titles(soon)).toEqual(['tomorrow', 'in three']);
  expect(titles(rest)).toEqual(['in eight days', 'gone by', 'all back', 'no date']);
});
