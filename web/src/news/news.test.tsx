import { makeId, type News, type Notice } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { SessionProvider } from '../frame/session.tsx';
import { addressOf, NewsView } from './NewsView.tsx';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const ID = makeId(1, new Uint8Array(10));
const notice = (id: number, over: Partial<Notice> = {}): Notice => ({
  id,
  kind: 'handed-in',
  at: Date.UTC(2026, 10, 20, 12),
  read: false,
  assignmentId: ID as Notice['assignmentId'],
  copyId: ID as Notice['copyId'],
  log: null,
  mark: null,
  title: 'Maps',
  className: '7K',
  who: `Student ${id}`,
  words: '',
  due: null,
  count: 1,
  ...over,
});

/** Shows these news to a teacher; gives what is sent to the server. */
async function shown(news: News) {
  const sent: { address: string; body: unknown }[] = [];
  const session = {
    person: { id: ID, role: 'teacher', given: 'Maren', family: 'Q', login: 'maren' },
    token: '',
    school: { name: 'Test', timeZone: 'UTC' },
    demo: null,
    firstPassword: false,
    reset: null,
    needsStep: false,
    standIns: false,
  };
  vi.stubGlobal('fetch', async (address: string, init?: RequestInit) => {
    if (init?.body) sent.push({ address, body: JSON.parse(String(init.body)) });
    const reply = address.endsWith('/choices') ? {} : address.includes('/news') ? news : session;
    return new Response(JSON.stringify(reply));
  });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SessionProvider>
        <MemoryRouter>
          <NewsView />
        </MemoryRouter>
      </SessionProvider>
    </QueryClientProvider>,
  );
  await screen.findByRole('heading', { name: 'News' });
  return sent;
}

describe('news', () => {
  test('say what is not read, and a run of hand-ins stands as one line with each below it', async () => {
    const run = [5, 4, 3, 2].map((n) => notice(n));
    await shown({ unread: 5, notices: [notice(9, { kind: 'message', words: 'Sorry, late.' }), ...run] });
    const list = await screen.findByRole('list', { name: 'News' });
    expect(screen.getByText('5 not read')).toBeTruthy();
    expect(within(list).getByText('Student 5 and 3 others handed in “Maps”.')).toBeTruthy();
    expect(within(list).getByText('“Sorry, late.”')).toBeTruthy();
    expect(within(list).getByText('Student 2 handed in “Maps”.')).toBeTruthy();
  });

  test('are marked as read one by one, a run as one, and all at once', async () => {
    const sent = await shown({
      unread: 5,
      notices: [notice(9, { kind: 'message' }), ...[5, 4, 3, 2].map((n) => notice(n))],
    });
    const [one, run] = await screen.findAllByRole('button', { name: 'Mark as read' });
    fireEvent.click(one!);
    fireEvent.click(run!);
    fireEvent.click(screen.getByRole('button', { name: 'Mark all as read' }));
    await vi.waitFor(() => expect(sent).toHaveLength(3));
    expect(sent.map((s) => s.body)).toEqual([
      { ids: [9], read: true },
      { ids: [5, 4, 3, 2], read: true },
      { ids: null, read: true },
    ]);
  });

  test('say so where there are none', async () => {
    await shown({ unread: 0, notices: [] });
    expect(await screen.findByText('No news yet')).toBeTruthy();
  });

  test('lead to the very spot', () => {
    const mark = ID as Notice['mark'];
    expect(addressOf(notice(1, { kind: 'answered', mark }), true)).toBe(`/desk/${ID}?mark=${ID}`);
    expect(addressOf(notice(1, { kind: 'message' }), true)).toBe(`/copies/${ID}/words`);
    expect(addressOf(notice(1, { kind: 'forgotten', copyId: null }), true)).toBe(`/piles/${ID}`);
    expect(addressOf(notice(1, { kind: 'message', mark }), false)).toBe(`/work/${ID}?mark=${ID}`);
    expect(addressOf(notice(1, { kind: 'set', copyId: null }), false)).toBe('/');
  });
});
