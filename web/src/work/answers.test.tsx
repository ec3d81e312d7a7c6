import type { CopyId, PersonId, Question, QuestionId } from '@jotmark/core';
import { act, render } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useAnswers } from './useAnswers.ts';

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
});
afterEach(() => vi.useRealTimers());

const q = { id: 'q1' as QuestionId } as Question;

function typing(person = 'ada') {
  const answer = vi.fn();
  const keeper = { answer, written: () => Promise.resolve() } as unknown as SheetKeeper;
  let now!: ReturnType<typeof useAnswers>;
  function Copy() {
    now = useAnswers(keeper, person as PersonId, 'c' as CopyId);
    return null;
  }
  const { unmount } = render(<Copy />);
  return {
    answer,
    unmount,
    type: (value: string) => act(() => now.onType(q, value)),
    paste: (letters: number) => act(() => now.onPaste(letters)),
    rest: (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms)),
  };
}

test('what is typed in one go is one step for undo; after a pause begins another', async () => {
  const t = typing();
  t.type('nor');
  await t.rest(300);
  t.type('north');
  await t.rest(300);
  await t.rest(2000);
  t.type('north of');
  await t.rest(300);
  const steps = t.answer.mock.calls.map((c) => c[2]);
  expect(t.answer.mock.calls.map((c) => c[1])).toEqual(['nor', 'north', 'north of']);
  expect(steps[0]).toBe(steps[1]);
  expect(steps[2]).not.toBe(steps[1]);
});

test('pasted letters belong to the change that is being typed, once', async () => {
  const t = typing();
  t.paste(12);
  t.type('from a page');
  await t.rest(300);
  t.type('from a page.');
  await t.rest(300);
  expect(t.answer.mock.calls.map((c) => c[3])).toEqual([12, 0]);
});

test('a copy that is closed while one types leaves nothing behind', () => {
  const t = typing();
  t.type('in haste');
  t.unmount();
  expect(t.answer).toHaveBeenCalledWith('q1', 'in haste', expect.any(String), 0);
});
