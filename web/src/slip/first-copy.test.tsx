import { starterTrays, type TrayId } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { FirstCopy } from './FirstCopy.tsx';

const person = vi.hoisted(() => ({ id: 'one' }));
vi.mock('../frame/session.tsx', () => ({ useHere: () => ({ session: { person } }) }));
const pens = starterTrays(() => 't' as TrayId).trays[0]!.pens;
afterEach(() => {
  cleanup();
  localStorage.clear();
});

test('five things at the first copy; dismissed they stay away for this person, not for another', () => {
  render(<FirstCopy pens={pens} />);
  expect(screen.getAllByRole('definition')).toHaveLength(5);
  fireEvent.click(screen.getByRole('button', { name: 'Dismiss these hints' }));
  expect(screen.queryByRole('region')).toBeNull();
  cleanup();
  render(<FirstCopy pens={pens} />);
  expect(screen.queryByRole('region')).toBeNull();
  cleanup();
  person.id = 'two';
  render(<FirstCopy pens={pens} />);
  expect(screen.getByRole('region', { name: 'What makes it quick' })).toBeTruthy();
});

test('the keys are those of the pens that lie there; what does not lie there is not said', () => {
  const [tick, ...rest] = pens.slice(1);
  render(<FirstCopy pens={[...rest.filter((p) => p.tool !== 'note'), tick!]} />);
  const said = screen.getAllByRole('term').map((t) => t.textContent);
  expect(said).toEqual(['1 … 0', String(rest.filter((p) => p.tool !== 'note').length + 1), 'g', 'Ctrl ↵']);
});
