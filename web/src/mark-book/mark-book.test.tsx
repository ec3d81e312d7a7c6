import type { BookCell, BookColumn, MarkBook } from '@jotmark/core';
import { PLAIN_RULE } from '@jotmark/core';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { BookRuleForm } from './BookRuleForm.tsx';
import { BookTable } from './BookTable.tsx';
import type { Student } from './CellField.tsx';

vi.mock('../frame/session.tsx', () => ({
  useHere: () => ({ session: { person: { id: 'me' }, school: { name: '', timeZone: 'Europe/London' } } }),
}));
afterEach(() => {
  cleanup();
  localStorage.clear();
});

const students = ['Ada', 'Ben', 'Cyd'].map((given, i) => ({
  id: `p${i}`,
  given,
  family: 'Stone',
})) as unknown as Student[];
const column = (id: string, more: Partial<BookColumn> = {}) =>
  ({
    id,
    title: `Work ${id}`,
    category: 'homework',
    unit: '',
    at: 1,
    most: 1000,
    scale: { kind: 'points' },
    ...more,
  }) as BookColumn;
const cell = (person: number, assignment: string, more: Partial<BookCell> = {}) =>
  ({
    personId: `p${person}`,
    assignmentId: assignment,
    copyId: `c${person}${assignment}`,
    place: 'in',
    grade: null,
    own: false,
    held: true,
    excused: false,
    missing: false,
    late: false,
    handInId: `h${person}${assignment}`,
    typed: null,
    computed: null,
    gradeVersion: null,
    ...more,
  }) as BookCell;

function show(cells: BookCell[], columns = [column('a'), column('b')]) {
  const heard = { onGrade: vi.fn(), onPaste: vi.fn() };
  render(
    <MemoryRouter>
      <BookTable
        students={students}
        columns={columns}
        counted={columns}
        logAt={(id) => `/log/${id}`}
        rule={PLAIN_RULE as MarkBook['rule']}
        cellOf={(person, c) => cells.find((x) => x.personId === person && x.assignmentId === c.id)}
        {...heard}
      />
    </MemoryRouter>,
  );
  return heard;
}
const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);

describe('the mark book', () => {
  test('a grade is typed; Enter keeps it and goes down, arrows go every way, cells without anything to do are passed over', () => {
    const heard = show([cell(0, 'a'), cell(0, 'b'), cell(2, 'a'), cell(1, 'b')]);
    act(() => field('Grade of Ada Stone, Work a').focus());
    const first = field('Grade of Ada Stone, Work a');
    fireEvent.change(first, { target: { value: '7,5' } });
    fireEvent.keyDown(first, { key: 'Enter' });
    expect(heard.onGrade).toHaveBeenCalledWith(expect.objectContaining({ personId: 'p0' }), 750);
    // Ben has no copy of it.
    expect(document.activeElement).toBe(field('Grade of Cyd Stone, Work a'));
    fireEvent.keyDown(document.activeElement!, { key: 'ArrowUp' });
    expect(document.activeElement).toBe(first);
    first.select();
    fireEvent.keyDown(first, { key: 'ArrowRight' });
    expect(document.activeElement).toBe(field('Grade of Ada Stone, Work b'));
  });

  test('a grade that nobody came to is plain text; by Tab, a click or an arrow it is a field; what was typed and not finished is one at once', () => {
    localStorage.setItem('jotmark.grade.me.h1a', '6,');
    show([cell(0, 'a', { grade: 800 }), cell(1, 'a'), cell(2, 'a')]);
    const ada = screen.getByRole('textbox', { name: 'Grade of Ada Stone, Work a' });
    expect([ada.tagName, ada.textContent]).toEqual(['SPAN', '8']);
    expect(field('Grade of Ben Stone, Work a').value).toBe('6,');
    expect(document.activeElement).toBe(document.body);
    act(() => ada.focus());
    const now = field('Grade of Ada Stone, Work a');
    expect([now.tagName, now.value, now.selectionEnd]).toEqual(['INPUT', '8', 1]);
    expect(document.activeElement).toBe(now);
    fireEvent.keyDown(now, { key: 'ArrowDown' });
    fireEvent.keyDown(document.activeElement!, { key: 'ArrowDown' });
    expect(document.activeElement).toBe(field('Grade of Cyd Stone, Work a'));
    expect(document.activeElement!.tagName).toBe('INPUT');
  });

  test('what went back, is a member’s own or is marked blind takes no grade here; what is held is told from what went back', () => {
    show([
      cell(0, 'a', { place: 'handed-back', held: false, grade: 800 }),
      cell(1, 'a', { own: true, grade: 600 }),
      cell(2, 'a', { copyId: null, handInId: null }),
      cell(0, 'b', { excused: true }),
    ]);
    expect(screen.queryAllByRole('textbox')).toEqual([]);
    expect(screen.getByRole('link', { name: /Ada Stone, Work a/ }).textContent).toBe('8');
    expect(screen.getByRole('link', { name: /Ben Stone, Work a/ }).querySelector('.italic')).not.toBeNull();
    expect(screen.getByText('excused')).toBeTruthy();
  });

  test('a column that was copied elsewhere is pasted from the cell one is in; a single number is typed as ever', () => {
    const heard = show([cell(0, 'a'), cell(1, 'a')]);
    const paste = (text: string) =>
      fireEvent.paste(field('Grade of Ada Stone, Work a'), { clipboardData: { getData: () => text } });
    paste('8');
    expect(heard.onPaste).not.toHaveBeenCalled();
    paste('8\n7\n');
    expect(heard.onPaste).toHaveBeenCalledWith(0, 0, '8\n7\n');
  });

  test('what a student comes to, and the middle of the class', () => {
    show([
      cell(0, 'a', { grade: 800, held: false }),
      cell(1, 'a', { grade: 600, held: false }),
      cell(2, 'a', { grade: 500, held: false }),
    ]);
    expect(screen.getAllByRole('row')[1]!.textContent).toContain('80');
    expect(
      screen.getByRole('img', { name: 'Median 6; half of them between 5½ and 7; from 5 to 8' }),
    ).toBeTruthy();
  });
});

test('the rule is a sentence, and can be chosen', () => {
  const onChange = vi.fn();
  render(<BookRuleForm rule={PLAIN_RULE} categories={['homework', 'test']} onChange={onChange} />);
  expect(
    screen.getByText(/Points are added up within each kind of work\. Missing work is left out\./),
  ).toBeTruthy();
  fireEvent.change(screen.getByLabelText(/test counts/), { target: { value: '3' } });
  expect(onChange).toHaveBeenCalledWith({ ...PLAIN_RULE, weights: [{ category: 'test', weight: 3 }] });
  fireEvent.change(screen.getByLabelText(/Missing work/), { target: { value: 'zero' } });
  expect(onChange).toHaveBeenLastCalledWith({ ...PLAIN_RULE, missing: 'zero' });
});

test('a term has a name, a first and a last day; one that ends before it begins is told', () => {
  const onChange = vi.fn();
  render(<BookRuleForm rule={PLAIN_RULE} categories={['homework']} onChange={onChange} />);
  const fill = (label: string, value: string) =>
    fireEvent.change(screen.getByLabelText(label), { target: { value } });
  fill('Name of a new term', 'Autumn');
  fill('First day of the term', '2026-09-01');
  fill('Last day of the term', '2026-08-01');
  expect(screen.getByText('The last day is before the first.')).toBeDefined();
  // The clocks change within it: it ends with its last day all the same.
  fill('Last day of the term', '2026-10-25');
  fireEvent.click(screen.getByRole('button', { name: 'Add term' }));
  expect(onChange.mock.lastCall![0].terms).toEqual([
    {
      name: 'Autumn',
      from: Date.parse('2026-08-31T23:00:00Z'),
      to: Date.parse('2026-10-26T00:00:00Z'),
    },
  ]);
});
