import type { AssignmentSheet } from '@jotmark/core';
import { act, renderHook } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import { useWhenRead } from './useWhenRead.ts';

const sheet = (state: string) =>
  ({
    materials: [
      { kind: 'link', name: 'Tides', document: null },
      { kind: 'worksheet', name: 'Map work', document: { reading: { state } } },
    ],
  }) as unknown as AssignmentSheet;

function waiting(state: string) {
  const done = vi.fn();
  const hook = renderHook((of: AssignmentSheet) => useWhenRead(of, done), { initialProps: sheet(state) });
  return { ...hook, done };
}

test('a wish waits for the pages of a worksheet, and comes true once, when they are there', () => {
  const { result, rerender, done } = waiting('queued');
  expect(result.current.waitsFor).toBeNull();
  act(() => result.current.wish());
  expect(result.current.waitsFor).toBe('Map work');
  rerender(sheet('running'));
  expect(done).not.toHaveBeenCalled();
  rerender(sheet('done'));
  expect(done).toHaveBeenCalledTimes(1);
  expect(result.current.waitsFor).toBeNull();
  rerender(sheet('done'));
  expect(done).toHaveBeenCalledTimes(1);
});

test('a wish that was dropped does not come true', () => {
  const { result, rerender, done } = waiting('running');
  act(() => result.current.wish());
  act(() => result.current.drop());
  rerender(sheet('done'));
  expect(done).not.toHaveBeenCalled();
});

test('pages that are there, or can never be, are not waited for: the server says what is wrong', () => {
  for (const state of ['done', 'failed']) {
    const { result, done } = waiting(state);
    act(() => result.current.wish());
    expect(done).toHaveBeenCalledTimes(1);
  }
});
