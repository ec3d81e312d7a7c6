import { groupWork } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, expect, test } from 'vitest';
import { groupName, useWorkView, WorkTools } from './WorkTools.tsx';

afterEach(cleanup);

const work = [
  { title: 'Signs', unit: 'Maps', category: 'homework' },
  { title: 'Rain', unit: 'Weather', category: 'test' },
  { title: 'Talk', unit: '', category: 'test' },
];

function List({ all }: { all: typeof work }) {
  const [view, setView] = useWorkView();
  const { search } = useLocation();
  return (
    <>
      <WorkTools work={all} view={view} onView={setView} />
      <p role="status">{search}</p>
      {groupWork(all, view).map((g) => (
        <section key={g.name} aria-label={groupName(g.name, view.by) || 'all'}>
          {g.work.map((w) => w.title).join(', ')}
        </section>
      ))}
    </>
  );
}
const show = (at = '/', all = work) =>
  render(
    <MemoryRouter initialEntries={[at]}>
      <List all={all} />
    </MemoryRouter>,
  );
const listed = () =>
  screen.getAllByRole('region').map((r) => `${r.getAttribute('aria-label')}: ${r.textContent}`);
const pick = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });

test('a list is narrowed to a unit or a category of those in use, and grouped by either; the address says how', () => {
  show();
  expect(listed()).toEqual(['all: Signs, Rain, Talk']);
  expect([...screen.getByLabelText<HTMLSelectElement>('Unit').options].map((o) => o.text)).toEqual([
    'All units',
    'Maps',
    'Weather',
  ]);
  pick('Grouped by', 'unit');
  expect(listed()).toEqual(['Maps: Signs', 'Weather: Rain', 'Without a unit: Talk']);
  pick('Category', 'test');
  expect(listed()).toEqual(['Weather: Rain', 'Without a unit: Talk']);
  expect(screen.getByRole('status').textContent).toBe('?by=unit&category=test');
  pick('Category', '');
  pick('Grouped by', '');
  expect(screen.getByRole('status').textContent).toBe('');
});

test('come back to, it is as it was left; an odd address groups nothing', () => {
  show('/?unit=Maps&by=category');
  expect(listed()).toEqual(['homework: Signs']);
  cleanup();
  show('/?by=colour');
  expect(listed()).toEqual(['all: Signs, Rain, Talk']);
});

test('where there is nothing to pick from nothing is offered', () => {
  show('/', [{ title: 'Signs', unit: 'Maps', category: '' }]);
  expect(screen.queryByLabelText('Unit')).toBeNull();
  expect(listed()).toEqual(['all: Signs']);
});
