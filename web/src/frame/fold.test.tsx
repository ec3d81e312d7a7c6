import { cleanup, fireEvent, render } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { Fold } from './Fold.tsx';

afterEach(() => {
  cleanup();
  localStorage.clear();
});

/** jsdom opens nothing by itself. */
const toggle = (details: HTMLDetailsElement, open: boolean) => {
  details.open = open;
  fireEvent(details, new Event('toggle'));
};
const show = (name: string, onOpen = vi.fn()) => {
  const { container } = render(
    <Fold name={name} head="More" onOpen={onOpen}>
      <p>within</p>
    </Fold>,
  );
  return { details: container.querySelector('details')!, onOpen };
};

test('a fold stays as one left it, each by its own name', () => {
  const first = show('pdf');
  expect(first.details.open).toBe(false);
  toggle(first.details, true);
  expect(first.onOpen).toHaveBeenLastCalledWith(true);
  cleanup();
  expect(show('marks').details.open).toBe(false);
  const again = show('pdf');
  expect(again.details.open).toBe(true);
  toggle(again.details, false);
  cleanup();
  expect(show('pdf').details.open).toBe(false);
});
