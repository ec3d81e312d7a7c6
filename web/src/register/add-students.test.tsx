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

test('names and logins are corrected in the preview, which shows what would be; two of one login, or none, are not added', async () => {
  show([line(1), line(2)]);
  const login = await screen.findByLabelText('Login in line 2');
  fireEvent.change(login, { target: { value: 'given1' } });
  expect(screen.getByRole('alert').textContent).toBe('The same as in line 1.');
  const add = screen.getByRole<HTMLButtonElement>('button', { name: 'Add 2 students' });
  expect(add.disabled).toBe(true);
  fireEvent.change(login, { target: { value: 'Not one' } });
  expect(screen.getByRole('alert').textContent).toMatch(/Small letters/);
  fireEvent.change(login, { target: { value: 'bo' } });
  fireEvent.change(screen.getByLabelText('Family name in line 2'), { target: { value: 'de la Cruz' } });
  fireEvent.change(screen.getByLabelText('Given name in line 1'), { target: { value: '' } });
  expect(add.disabled).toBe(true);
  fireEvent.change(screen.getByLabelText('Given name in line 1'), { target: { value: 'Ada' } });
  call.mockResolvedValueOnce([]);
  fireEvent.click(add);
  await waitFor(() => expect(call).toHaveBeenCalledTimes(2));
  expect(call.mock.calls[1]![1].body.students).toEqual([
    { given: 'Ada', family: 'Example', login: 'given1' },
    { given: 'Given2', family: 'de la Cruz', login: 'bo' },
  ]);
});

test('a list that was looked at by the button is not looked at once more by the clock: what was corrected in it stays', async () => {
  vi.useFakeTimers({ shouldAdvanceTime: true });
  try {
    show([line(1)]);
    const login = await screen.findByLabelText<HTMLInputElement>('Login in line 1');
    fireEvent.change(login, { target: { value: 'bo' } });
    await vi.advanceTimersByTimeAsync(2000);
    expect(call).toHaveBeenCalledTimes(1);
    expect(screen.getByLabelText<HTMLInputElement>('Login in line 1').value).toBe('bo');

    // Written anew it is looked at anew, though it says the same in the end.
    const field = screen.getByLabelText(/^Names, one a line/);
    call.mockResolvedValueOnce({ lines: [line(1)], trouble: null, count: 1 });
    fireEvent.change(field, { target: { value: 'a list!' } });
    fireEvent.change(field, { target: { value: 'a list' } });
    expect(screen.queryByLabelText('Login in line 1')).toBeNull();
    await vi.advanceTimersByTimeAsync(2000);
    expect(call).toHaveBeenCalledTimes(2);
    expect(await screen.findByLabelText('Login in line 1')).toBeDefined();
  } finally {
    vi.useRealTimers();
  }
});
