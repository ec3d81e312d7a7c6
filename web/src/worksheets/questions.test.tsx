import { makeId, type Question, type QuestionId, type Questions, type WorksheetShape } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, render } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { CallFailed } from '../api/call.ts';
import { useQuestions } from './useQuestions.ts';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));

beforeEach(() => {
  vi.useFakeTimers();
  call.mockReset();
});
afterEach(() => vi.useRealTimers());

const question = (n: number): Question => ({
  id: makeId(n, new Uint8Array(10).fill(n)) as QuestionId,
  page: 0,
  box: [0, 0, 100, 20],
  part: false,
  label: null,
  points: 100,
  answer: { kind: 'line' },
});

function maker(questions: Questions = []) {
  const worksheet = {
    id: 'w',
    versionId: 'v1',
    number: 1,
    revision: 0,
    questions,
  } as unknown as WorksheetShape;
  let now!: ReturnType<typeof useQuestions>;
  function Maker() {
    now = useQuestions(worksheet);
    return null;
  }
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Maker />
    </QueryClientProvider>,
  );
  const add = (n: number) => act(() => now.change((all) => [...all, question(n)]));
  const rest = () => act(() => vi.advanceTimersByTimeAsync(700));
  return { now: () => now, add, rest, points: () => now.questions.map((q) => q.points) };
}

describe('questions while they are edited', () => {
  test('what rests is kept, once, with all that was done meanwhile', async () => {
    call.mockResolvedValue({ versionId: 'v1', number: 1, revision: 1 });
    const m = maker();
    m.add(1);
    m.add(2);
    expect(m.now().saving).toBe(true);
    await m.rest();
    expect(call).toHaveBeenCalledTimes(1);
    expect(call.mock.calls[0]![1].body).toMatchObject({ versionId: 'v1', revision: 0 });
    expect(call.mock.calls[0]![1].body.questions).toHaveLength(2);
    expect(m.now().saving).toBe(false);
    // The next edit is made on what was kept.
    m.add(3);
    await m.rest();
    expect(call.mock.calls[1]![1].body.revision).toBe(1);
  });

  test('steps are taken back one by one, those of one move at once, and come again until something new is done', () => {
    const m = maker([question(1)]);
    for (const points of [200, 300, 400])
      act(() => m.now().change((all) => all.map((q) => ({ ...q, points })), 'points'));
    m.add(2);
    expect(m.points()).toEqual([400, 100]);
    act(() => m.now().undo());
    act(() => m.now().undo());
    expect(m.points()).toEqual([100]);
    expect(m.now().canUndo).toBe(false);
    act(() => m.now().redo());
    expect(m.points()).toEqual([400]);
    m.add(3);
    expect(m.now().canRedo).toBe(false);
  });

  test('an edit that changes nothing is no step', () => {
    const m = maker([question(1)]);
    act(() => m.now().change((all) => [...all]));
    expect(m.now()).toMatchObject({ canUndo: false, saving: false });
  });

  test('an edit elsewhere is told, and nothing is sent over it again and again', async () => {
    call.mockRejectedValue(new CallFailed('changed-elsewhere'));
    const m = maker();
    m.add(1);
    await m.rest();
    await act(() => vi.advanceTimersByTimeAsync(10_000));
    expect(call).toHaveBeenCalledTimes(1);
    expect(m.now().error).toMatchObject({ code: 'changed-elsewhere' });
    expect(m.points()).toEqual([100]);
  });

  test('without a network it is tried again', async () => {
    call.mockRejectedValueOnce(new CallFailed('offline'));
    call.mockResolvedValue({ versionId: 'v1', number: 1, revision: 1 });
    const m = maker();
    m.add(1);
    for (let i = 0; i < 3; i++) await m.rest();
    expect(call).toHaveBeenCalledTimes(2);
    expect(m.now().saving).toBe(false);
  });
});
