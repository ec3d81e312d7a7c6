import { type AssignmentSheet, makeId } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, expect, test, vi } from 'vitest';
import { TrialPart } from './TrialPart.tsx';

vi.mock('../api/call.ts', async (original) => ({ ...(await original<object>()), call: vi.fn() }));
const { call } = await import('../api/call.ts');

afterEach(() => {
  cleanup();
  vi.mocked(call).mockReset();
});

const id = (n: number) => makeId(n, new Uint8Array(10).fill(n)) as never;
const sheet = (trial: object | null) => ({ id: id(1), trial, materials: [] }) as unknown as AssignmentSheet;

function show(of: AssignmentSheet, before: () => Promise<void> = async () => {}) {
  const changed = vi.fn();
  const Where = () => <p role="note">{useLocation().pathname}</p>;
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <TrialPart sheet={of} before={before} onChanged={changed} />
        <Where />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return changed;
}
const answers = (by: Record<string, unknown>) =>
  vi.mocked(call).mockImplementation((async (name: string) => by[name]) as never);

test('begins with what is kept first, and leads to the copy', async () => {
  const order: string[] = [];
  vi.mocked(call).mockImplementation((async (name: string) => {
    order.push(name);
    return name === 'startTrial' ? { assignmentId: id(2), copyId: id(3) } : sheet({});
  }) as never);
  const changed = show(sheet(null), async () => void order.push('kept'));
  fireEvent.click(screen.getByRole('button', { name: 'Start a trial run' }));
  await waitFor(() => expect(screen.getByRole('note').textContent).toBe(`/trial/${id(3)}`));
  expect(order).toEqual(['kept', 'startTrial', 'assignment']);
  expect(changed).toHaveBeenCalledWith(sheet({}));
});

test('running it leads to both sides of it, and ends in one move', async () => {
  answers({ endTrial: undefined, assignment: sheet(null) });
  const changed = show(sheet({ assignmentId: id(2), copyId: id(3) }));
  expect(screen.getByRole('link', { name: /^Your copy/ }).getAttribute('href')).toBe(`/trial/${id(3)}`);
  expect(screen.getByRole('link', { name: /^Its pile/ }).getAttribute('href')).toBe(`/piles/${id(2)}`);
  fireEvent.click(screen.getByRole('button', { name: 'End the trial run' }));
  await waitFor(() => expect(changed).toHaveBeenCalledWith(sheet(null)));
});
