import { type DocumentId, type HandInId, type Mark, type MarkId, makeId, type PersonId } from '@jotmark/core';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { keepStroke, takeStroke } from './stroke-in-hand.ts';

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const me = id<PersonId>(1);
const handIn = id<HandInId>(2);
const stroke: Mark = {
  v: 2,
  id: id<MarkId>(3),
  document: id<DocumentId>(4),
  page: 0,
  colour: 'garnet',
  focus: null,
  madeAt: 1,
  kind: 'ink',
  points: [100, 100, 9],
  width: 1,
};

beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
});
afterEach(() => vi.useRealTimers());

test('a stroke that a tab left in the middle is given once, when it is sure that nobody draws it', () => {
  keepStroke(me, handIn, stroke);
  const use = vi.fn();
  takeStroke(me, handIn, use);
  vi.advanceTimersByTime(2000);
  expect(use).not.toHaveBeenCalled();
  vi.advanceTimersByTime(1000);
  expect(use).toHaveBeenCalledExactlyOnceWith(stroke);
  takeStroke(me, handIn, use);
  vi.advanceTimersByTime(5000);
  expect(use).toHaveBeenCalledTimes(1);
});

test('one that is still being drawn in another tab, or has settled, stays with that tab', () => {
  const use = vi.fn();
  keepStroke(me, handIn, stroke);
  takeStroke(me, handIn, use);
  vi.advanceTimersByTime(1000);
  keepStroke(me, handIn, { ...stroke, points: [100, 100, 9, 200, 200, 9] } as Mark);
  vi.advanceTimersByTime(5000);
  keepStroke(me, handIn, null);
  takeStroke(me, handIn, use);
  vi.advanceTimersByTime(5000);
  expect(use).not.toHaveBeenCalled();
});

test('nobody gets another’s stroke, nor another copy’s, nor what cannot be read', () => {
  const use = vi.fn();
  keepStroke(me, handIn, stroke);
  takeStroke(id<PersonId>(7), handIn, use);
  takeStroke(me, id<HandInId>(8), use);
  vi.advanceTimersByTime(5000);
  for (const broken of ['no JSON', '{}', '{"mark":{"v":9},"at":"never"}', 'null']) {
    localStorage.setItem(localStorage.key(0)!, broken);
    takeStroke(me, handIn, use);
    vi.advanceTimersByTime(5000);
    if (localStorage.length === 0) keepStroke(me, handIn, stroke);
  }
  expect(use).not.toHaveBeenCalled();
});
