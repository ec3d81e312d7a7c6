import { type CopyId, makeId, type Pile, PLAIN_HAND_BACK } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { SessionProvider } from '../frame/session.tsx';
import { Orders } from './Orders.tsx';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const id = (n: number) => makeId(n, new Uint8Array(10).fill(n)) as string;
const session = {
  person: { id: id(1), role: 'teacher', given: 'Maren', family: 'Q', login: 'maren' },
  token: '',
  school: { name: 'Test', timeZone: 'UTC' },
  demo: null,
  firstPassword: false,
  reset: null,
  needsStep: false,
  standIns: false,
};

/** Two copies that go back, one of them marked; gives what was asked of the server. */
async function show(over: object): Promise<string[]> {
  const asked: string[] = [];
  vi.stubGlobal('fetch', async (address: string, init?: RequestInit) => {
    if (init?.method === 'DELETE') asked.push(address);
    return init?.method === 'DELETE'
      ? new Response(null, { status: 204 })
      : new Response(JSON.stringify(session));
  });
  const order = {
    id: id(5),
    at: Date.now() + 3_600_000,
    copyIds: [id(2), id(3)],
    how: PLAIN_HAND_BACK,
    by: 'Maren Q',
    failed: false,
    ...over,
  };
  const rows = [id(2), id(3)].map((copyId, i) => ({
    copyId: copyId as CopyId,
    place: i ? 'being-marked' : 'marked',
  }));
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SessionProvider>
        <Orders pile={{ assignment: { id: id(4) }, rows, orders: [order] } as unknown as Pile} />
      </SessionProvider>
    </QueryClientProvider>,
  );
  await screen.findByRole('listitem');
  return asked;
}

test('what goes back at a set time is said with how much of it is marked so far, and can be cancelled', async () => {
  const asked = await show({});
  const said = screen.getByRole('listitem').textContent!;
  expect(said).toMatch(/^2 copies go back (?:today|tomorrow) \d\d:\d\d · 1 marked so far/);
  fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  await waitFor(() => expect(asked).toEqual([`/api/hand-back-orders/${id(5)}`]));
});

test('what goes back unfinished is said so', async () => {
  await show({ how: { ...PLAIN_HAND_BACK, unfinished: true } });
  expect(screen.getByRole('listitem').textContent).toContain(', unfinished');
});

test('what could not go back says that nobody saw anything and what to do, and is dismissed', async () => {
  const asked = await show({ failed: true, at: Date.now() - 3_600_000 });
  expect(screen.getByRole('alert').textContent).toMatch(
    /^2 copies could not go back .+\. Nobody has seen anything, and all you marked is kept\. Hand them back now, or set another time\.$/,
  );
  fireEvent.click(screen.getByRole('button', { name: 'Dismiss' }));
  await waitFor(() => expect(asked).toHaveLength(1));
});
