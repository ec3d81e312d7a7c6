import type { AssignmentSheet } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { expect, test, vi } from 'vitest';
import { keys } from '../ask/keys.ts';
import { useAssignmentEdit } from './useAssignmentEdit.ts';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));

const sheet = {
  id: 'a',
  classId: 'c',
  stage: 'draft',
  revision: 1,
  words: { title: '' },
  audience: { alsoClasses: [], students: null },
} as unknown as AssignmentSheet;

test('what is kept at once while a save is on its way waits for it, and builds on it', async () => {
  const client = new QueryClient();
  client.setQueryData(keys.assignment(sheet.id), sheet);
  const answers: (() => void)[] = [];
  call.mockImplementation(
    (_, { body }: { body: { revision: number; words: AssignmentSheet['words'] } }) =>
      new Promise((resolve) => {
        answers.push(() => resolve({ ...sheet, revision: body.revision + 1, words: body.words }));
      }),
  );
  const { result } = renderHook(() => useAssignmentEdit(sheet), {
    wrapper: ({ children }: { children: ReactNode }) => (
      <QueryClientProvider client={client}>{children}</QueryClientProvider>
    ),
  });
  act(() => result.current.change({ title: 'Maps' }));
  // It rests, and is kept by itself.
  await waitFor(() => expect(call).toHaveBeenCalledTimes(1), { timeout: 5000 });
  act(() => result.current.change({ title: 'Maps of the island' }));
  let kept = false;
  await act(async () => {
    result.current.keepNow().then(() => {
      kept = true;
    });
  });
  expect(call).toHaveBeenCalledTimes(1);
  await act(async () => answers[0]!());
  await waitFor(() => expect(call).toHaveBeenCalledTimes(2));
  expect(call.mock.calls[1]![1].body).toMatchObject({ revision: 2, words: { title: 'Maps of the island' } });
  await act(async () => answers[1]!());
  await waitFor(() => expect(kept).toBe(true));
});
