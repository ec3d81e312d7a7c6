import { type MailShape, makeId, NEWS_NAMES } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import type { ReactElement } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { SessionProvider } from '../frame/session.tsx';
import { Choices } from './Choices.tsx';
import { PostView } from './PostView.tsx';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const id = (n: number) => makeId(n, new Uint8Array(10).fill(n)) as never;
const NOW = Date.UTC(2026, 10, 20, 12);
const mail = (n: number, over: Partial<MailShape> = {}): MailShape =>
  ({
    ...{ id: id(n), to: `Student ${n}`, address: `s${n}@school.test`, subject: `“Maps ${n}” is back.` },
    ...{ body: `Dear ${n},`, at: NOW, notBefore: NOW, sentAt: NOW, trouble: null },
    ...over,
  }) as MailShape;

/** Shows it to somebody; gives what was sent to the server. */
async function show(element: ReactElement, replies: Readonly<Record<string, unknown>>, role = 'teacher') {
  const session = {
    person: { id: id(9), role, given: 'Maren', family: 'Q', login: 'maren' },
    ...{
      token: '',
      firstPassword: false,
      reset: null,
      needsStep: false,
      school: { name: 'Test', timeZone: 'UTC' },
      demo: null,
      standIns: false,
    },
  };
  const sent: unknown[] = [];
  vi.stubGlobal('fetch', async (address: string, init?: RequestInit) => {
    if (init?.body) sent.push(JSON.parse(String(init.body)));
    const key = Object.keys(replies).find((k) => address.includes(k));
    return new Response(JSON.stringify(key ? replies[key] : session));
  });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SessionProvider>
        <MemoryRouter>{element}</MemoryRouter>
      </SessionProvider>
    </QueryClientProvider>,
  );
  return sent;
}

describe('the outbox', () => {
  const some = [
    mail(1),
    mail(2, { sentAt: null, trouble: 'no answer' }),
    mail(3, { sentAt: null, notBefore: NOW + 1, body: '' }),
  ];

  test('says of each letter whether it went, waits, or could not go yet', async () => {
    await show(<PostView />, { '/mails': { post: 'real', mails: some } });
    const list = await screen.findByRole('list', { name: 'Mail' });
    const said = within(list)
      .getAllByRole('listitem')
      .map((l) => l.textContent);
    expect(said[0]).toMatch(/to Student 1 · sent /);
    expect(said[1]).toContain('could not be sent yet, is tried again: no answer');
    expect(said[2]).toMatch(/· goes /);
    expect(screen.getByText(/sent by the school’s mail server/)).toBeTruthy();
  });

  test('opens one letter at a time, to be read and kept; one of a whole day is not written yet', async () => {
    await show(<PostView />, { '/mails': { post: 'simulated', mails: some } });
    fireEvent.click(await screen.findByRole('button', { name: /Maps 1/ }));
    expect(screen.getByText('Dear 1,')).toBeTruthy();
    expect(screen.getByText('s1@school.test')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Download as .eml' }).getAttribute('href')).toContain(
      String(id(1)),
    );
    fireEvent.click(screen.getByRole('button', { name: /Maps 3/ }));
    expect(screen.queryByText('Dear 1,')).toBeNull();
    expect(screen.getByText('It is written when it goes, with all that is new by then.')).toBeTruthy();
    expect(screen.queryByRole('link', { name: 'Download as .eml' })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: /Maps 3/ }));
    expect(screen.queryByText(/It is written when/)).toBeNull();
    expect(screen.getByText(/this mail is not sent anywhere/)).toBeTruthy();
  });

  test('without any says what would be there', async () => {
    await show(<PostView />, { '/mails': { post: 'simulated', mails: [] } });
    expect(await screen.findByText('No mail yet')).toBeTruthy();
  });
});

describe('what one is told of', () => {
  test('is chosen kind by kind, among the news and by mail; what is not touched stays as it was', async () => {
    const sent = await show(
      <Choices />,
      { '/choices': { message: { news: false, mail: 'none' } } },
      'student',
    );
    const back = await screen.findByLabelText<HTMLSelectElement>(`${NEWS_NAMES['handed-back']}: mail`);
    expect(back.value).toBe('each');
    expect(screen.getByLabelText<HTMLInputElement>(`${NEWS_NAMES.message}: among my news`).checked).toBe(
      false,
    );
    fireEvent.change(back, { target: { value: 'daily' } });
    await waitFor(() =>
      expect(sent).toEqual([
        { message: { news: false, mail: 'none' }, 'handed-back': { news: true, mail: 'daily' } },
      ]),
    );
  });

  test('is other for teachers than for students', async () => {
    await show(<Choices />, { '/choices': {} }, 'teacher');
    await screen.findByLabelText(`${NEWS_NAMES['handed-in']}: mail`);
    expect(screen.queryByLabelText(`${NEWS_NAMES['handed-back']}: mail`)).toBeNull();
    cleanup();
    await show(<Choices />, { '/choices': {} }, 'student');
    await screen.findByLabelText(`${NEWS_NAMES['handed-in-for']}: mail`);
    expect(screen.queryByLabelText(`${NEWS_NAMES['handed-in']}: mail`)).toBeNull();
  });
});
