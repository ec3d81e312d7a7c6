import type { CopyId } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { WordsFold } from './WordsFold.tsx';

let unread = 0;
let atNotes = 0;
vi.mock('./Conversation.tsx', () => ({
  Conversation: () => <p>what was said</p>,
  useUnread: () => ({ all: unread + atNotes, besides: unread }),
}));
afterEach(cleanup);

const fold = () => <WordsFold copyId={'c' as CopyId} title="Messages with Ada" withWhom="Ada" className="" />;
const said = () => screen.queryByText('what was said');

test('opens for what is new, stays open once that is read, and is closed by hand alone', () => {
  unread = 0;
  const shown = render(fold());
  expect(said()).toBeNull();
  // What is about a note is read there.
  atNotes = 1;
  shown.rerender(fold());
  expect(said()).toBeNull();
  expect(screen.getByText('1 new')).toBeTruthy();
  atNotes = 0;
  unread = 2;
  shown.rerender(fold());
  expect(said()).not.toBeNull();
  expect(screen.getByText('2 new')).toBeTruthy();
  unread = 0;
  shown.rerender(fold());
  expect(said()).not.toBeNull();
  const details = said()!.closest('details')!;
  details.open = false;
  fireEvent(details, new Event('toggle'));
  expect(said()).toBeNull();
});
