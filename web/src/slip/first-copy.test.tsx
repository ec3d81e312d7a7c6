import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { FirstCopy } from './FirstCopy.tsx';

const person = vi.hoisted(() => ({ id: 'one' }));
vi.mock('../frame/session.tsx', () => ({ useHere: () => ({ session: { person } }) }));
afterEach(() => {
  cleanup();
  localStorage.clear();
});

test('five things at the first copy; dismissed they stay away for this person, not for another', () => {
  render(<FirstCopy />);
  expect(screen.getAllByRole('definition')).toHaveLength(5);
  fireEvent.click(screen.getByRole('button', { name: 'Dismiss these hints' }));
  expect(screen.queryByRole('region')).toBeNull();
  cleanup();
  render(<FirstCopy />);
  expect(screen.queryByRole('region')).toBeNull();
  cleanup();
  person.id = 'two';
  render(<FirstCopy />);
  expect(screen.getByRole('region', { name: 'Five things that make it quick' })).toBeTruthy();
});
