import type { AssignmentSheet } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, render } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { CallFailed } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useAssignmentEdit } from './useAssignmentEdit.ts';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));

beforeEach(() => {
  vi.useFakeTimers();
  call.mockReset();
});
afterEach(() => vi.useRealTimers());

const sheet = (over: Partial<AssignmentSheet> = {}) =>
  ({
    id: 'a',
    classId: 'c',
    stage: 'draft',
    revision: 3,
    words: { title: 'Maps', most: 1000 },
    audience: { all: true },
    ...over,
  }) as unknown as AssignmentSheet;

function edit(of: AssignmentSheet) {
  const client = new QueryClient();
  client.setQueryData(keys.assignment(of.id), of);
  let now!: ReturnType<typeof useAssignmentEdit>;
  function Edit() {
    now = useAssignmentEdit(of);
    return null;
  }
  render(
    <QueryClientProvider client={client}>
      <Edit />
    </QueryClientProvider>,
  );
  return {
    now: () => now,
    client,
    title: (title: string) => act(() => now.change({ title })),
    rest: (ms = 800) => act(() => vi.advanceTimersByTimeAsync(ms)),
  };
}

test('a draft keeps itself when the typing rests, on the revision that was shown', async () => {
  call.mockImplementation(async (_, { body }) => sheet({ revision: 4, words: body.words }));
  const e = edit(sheet());
  e.title('Maps and');
  e.title('Maps and paths');
  expect(call).not.toHaveBeenCalled();
  await e.rest();
  expect(call).toHaveBeenCalledTimes(1);
  expect(call.mock.calls[0]![1].body).toMatchObject({
    revision: 3,
    words: { title: 'Maps and paths' },
    news: null,
  });
  expect(e.client.getQueryData(keys.assignment('a' as never))).toMatchObject({ revision: 4 });
});

test('what students see already is changed only when one says so, with a word to them', async () => {
  call.mockImplementation(async (_, { body }) => sheet({ stage: 'open', words: body.words }));
  const e = edit(sheet({ stage: 'open' }));
  e.title('Other maps');
  await e.rest(5000);
  expect(call).not.toHaveBeenCalled();
  expect(e.now().dirty).toBe(true);
  const then = vi.fn();
  act(() => e.now().saveNow('Look at the title.', then));
  await e.rest();
  expect(call.mock.calls[0]![1].body).toMatchObject({ news: 'Look at the title.' });
  expect(then).toHaveBeenCalled();
});

test('dropped, it reads as before', () => {
  const e = edit(sheet({ stage: 'open' }));
  e.title('Other maps');
  act(() => e.now().drop());
  expect(e.now()).toMatchObject({ dirty: false, words: { title: 'Maps' } });
});

test('changed elsewhere: it is said and not tried again by itself; the newest can be taken', async () => {
  call.mockRejectedValueOnce(new CallFailed('changed-elsewhere'));
  const e = edit(sheet());
  e.title('Mine');
  await e.rest();
  await e.rest(5000);
  expect(call).toHaveBeenCalledTimes(1);
  expect(e.now().error).toMatchObject({ code: 'changed-elsewhere' });
  expect(e.now().words.title).toBe('Mine');
  call.mockResolvedValueOnce(sheet({ revision: 9, words: { title: 'Theirs' } as never }));
  await act(() => e.now().takeNewest());
  expect(e.now()).toMatchObject({ error: null, words: { title: 'Theirs' } });
});
