import type { DocumentState } from '@jotmark/core';
import { renderHook } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import { useOnceRead } from './useOnceRead.ts';

const document = (state: 'queued' | 'running' | 'done' | 'failed', shows: 'pages' | 'link' = 'pages') =>
  [{ shows, reading: { state } }] as unknown as DocumentState[];

test('who was shown a copy before it was read asks once more when it is, and only once', () => {
  const onRead = vi.fn();
  const { rerender } = renderHook(({ d, settled }) => useOnceRead(d, settled, onRead), {
    initialProps: { d: document('queued'), settled: false },
  });
  expect(onRead).not.toHaveBeenCalled();
  rerender({ d: document('queued'), settled: true });
  expect(onRead).toHaveBeenCalledTimes(1);
  rerender({ d: document('done'), settled: false });
  rerender({ d: document('done'), settled: true });
  expect(onRead).toHaveBeenCalledTimes(1);
});

test.each([document('done'), document('failed'), document('queued', 'link')])(
  'who comes when it was read does not',
  (...d) => {
    const onRead = vi.fn();
    renderHook(() => useOnceRead(d, true, onRead));
    expect(onRead).not.toHaveBeenCalled();
  },
);
