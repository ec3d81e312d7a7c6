import { BITE, type ClassId } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { CallFailed } from '../api/call.ts';
import { AddStudents } from './AddStudents.tsx';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));
beforeEach(() => call.mockReset());
afterEach(cleanup);

const line = (n: number, over: object = {}) => ({
  line: n,
  given: `Given${n}`,
  family: 'Example',
  login: `given${n}`,
  known: null,
  outcome: 'new',
  why: null,
  of: null,
  ...over,
});

function show(lines: object[]) {
  const heard = { onAdded: vi.fn(), onSheet: vi.fn() };
  call.mockResolvedValueOnce({ lines, trouble: null, count: lines.length });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <AddStudents classId={'c' as ClassId} empty {...heard} />
    </QueryClientProvider>,
  );
  fireEvent.change(screen.getByLabelText(/^Names, one a line/), { target: { value: 'a list' } });
  fireEvent.click(screen.getByRole('button', { name: 'Preview' }));
  return heard;
}

test('before anybody is added it is shown what is wrong in which line', async () => {
  show([line(1), line(2, { outcome: 'wrong', why: 'double', of: 1 }), line(3, { outcome: 'here' })]);
  expect(await screen.findByText(/the same as line 1/)).toBeDefined();
  expect(call).toHaveBeenCalledTimes(1);
});

test('the good ones are added in bites; who was added before the network broke is told, and their passwords are shown', async () => {
  const lines = Array.from({ length: BITE + 5 }, (_, i) => line(i + 1));
  const { onSheet, onAdded } = show(lines);
  const add = await screen.findByRole('button', { name: /^Add / });
  call.mockImplementationOnce(async (_, { body }) =>
    body.students.map((s: { login: string }) => ({ login: s.login, password: 'secret' })),
  );
  call.mockRejectedValueOnce(new CallFailed('offline'));
  fireEvent.click(add);
  await waitFor(() => expect(onAdded).toHaveBeenCalled());
  expect(call.mock.calls.slice(1).map((c) => c[1].body.students.length)).toEqual([BITE, 5]);
  expect(onSheet.mock.calls[0]![0]).toHaveLength(BITE);
  expect(screen.getByText(new RegExp(`The first ${BITE} of the list were added`))).toBeDefined();
});
