import type { ClassId, Credentials } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, renderHook, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, expect, test, vi } from 'vitest';
import { PasswordSheet } from './PasswordSheet.tsx';
import { useFirstPasswords } from './useFirstPasswords.ts';

afterEach(cleanup);
const people = [
  { personId: 'p', given: 'Ada', family: 'Stone', login: 'ada.stone', password: 'a-b-c' },
] as unknown as Credentials[];

test('passwords that were made stay for who goes elsewhere and comes back; the tab is not closed by a slip; signing out forgets them', async () => {
  const client = new QueryClient();
  const shown = (classId: string) =>
    renderHook(() => useFirstPasswords(classId as ClassId), {
      wrapper: ({ children }: { children: ReactNode }) => (
        <QueryClientProvider client={client}>{children}</QueryClientProvider>
      ),
    });
  const closes = () => window.dispatchEvent(new Event('beforeunload', { cancelable: true }));
  const first = shown('7k');
  act(() => first.result.current.show(people));
  await waitFor(() => expect(first.result.current.made).toEqual(people));
  first.unmount();
  expect(closes()).toBe(false);
  expect(shown('7l').result.current.made).toBeNull();
  const again = shown('7k');
  expect(again.result.current.made).toEqual(people);
  act(() => again.result.current.done());
  await waitFor(() => expect(again.result.current.made).toBeNull());
  expect(closes()).toBe(true);
  act(() => again.result.current.show(people));
  again.unmount();
  client.removeQueries();
  expect(shown('7k').result.current.made).toBeNull();
  expect(closes()).toBe(true);
});

test('leaving the sheet asks first, unless it was printed', () => {
  const print = vi.spyOn(window, 'print').mockImplementation(() => {});
  const onClose = vi.fn();
  render(<PasswordSheet className="7K" people={people} next={null} onClose={onClose} />);
  fireEvent.click(screen.getByRole('button', { name: 'Done' }));
  expect(onClose).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  fireEvent.click(screen.getByRole('button', { name: 'Print the sheet' }));
  expect(print).toHaveBeenCalledOnce();
  fireEvent.click(screen.getByRole('button', { name: 'Done' }));
  expect(onClose).toHaveBeenCalledOnce();
});
