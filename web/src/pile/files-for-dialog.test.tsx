import { type CopyId, makeId, type Pile, type PileRow } from '@jotmark/core';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { FilesForDialog } from './FilesForDialog.tsx';
import type { FileFor, FilesFor } from './useFilesFor.ts';

afterEach(cleanup);
vi.stubGlobal(
  'ResizeObserver',
  class {
    observe() {}
    unobserve() {}
    disconnect() {}
  },
);

const id = (n: number) => makeId(n, new Uint8Array(10).fill(n)) as CopyId;
const row = (n: number, given: string, place = 'with-student') =>
  ({ copyId: id(n), place, student: { given, family: 'Stone' } }) as unknown as PileRow;
const rows = [row(1, 'Ada'), row(2, 'Ben', 'in')];
const file = (path: string, to: CopyId | null, over: Partial<FileFor> = {}): FileFor => ({
  file: new File([new Uint8Array(3000)], path),
  ...{ path, to, double: false, late: null },
  ...over,
});

function show(files: readonly FileFor[], over: Partial<FilesFor> = {}, dueAt: number | null = null) {
  const does = { give: vi.fn(), send: vi.fn(), stop: vi.fn(), close: vi.fn(), begin: vi.fn() };
  const pile = { assignment: { dueAt }, rows } as unknown as Pile;
  const filesFor = { files, progress: null, trouble: [], ...does, ...over } as unknown as FilesFor;
  render(<FilesForDialog pile={pile} filesFor={filesFor} />);
  return does;
}

describe('files that are handed in for students', () => {
  test('stand each with their student; who has handed in already cannot be chosen', () => {
    const does = show([file('ada.pdf', id(1)), file('scan.pdf', null)]);
    const select = screen.getByLabelText<HTMLSelectElement>('Student of scan.pdf');
    expect([...select.options].map((o) => [o.text, o.disabled])).toEqual([
      ['nobody: leave it out', false],
      ['Ada Stone', false],
      ['Ben Stone (handed in already)', true],
    ]);
    expect(screen.getByText(/1 file is nobody’s yet/)).toBeTruthy();
    fireEvent.change(select, { target: { value: id(1) } });
    expect(does.give.mock.calls[0]).toEqual([expect.objectContaining({ path: 'scan.pdf' }), id(1)]);
  });

  test('say why one goes to nobody: it is here twice, or its student has handed in', () => {
    show([file('ada.pdf', null, { double: true }), file('ben.pdf', null, { late: 'Ben Stone' })]);
    const [twice, late] = within(screen.getByRole('list', { name: 'Files' })).getAllByRole('listitem');
    expect(twice!.textContent).toContain('the same name and size as another file here');
    expect(late!.textContent).toContain('Ben Stone has handed in already');
    expect(screen.queryByText(/nobody’s yet/)).toBeNull();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Hand in 0 files/ }).disabled).toBe(true);
  });

  test('past the date they came in on time unless one says otherwise; before it nobody is asked', () => {
    const past = show([file('ada.pdf', id(1))], {}, Date.now() - 1000);
    fireEvent.click(screen.getByRole('button', { name: 'Hand in 1 file for Ada Stone' }));
    fireEvent.click(screen.getByLabelText('It came in on time'));
    fireEvent.click(screen.getByRole('button', { name: 'Hand in 1 file for Ada Stone' }));
    expect(past.send.mock.calls).toEqual([[true], [false]]);
    cleanup();
    const early = show([file('ada.pdf', id(1))], {}, Date.now() + 1000);
    expect(screen.queryByLabelText('It came in on time')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: /^Hand in 1 file/ }));
    expect(early.send.mock.calls).toEqual([[false]]);
  });

  test('on their way say how far they are and can be stopped; what went wrong is said by name', () => {
    const does = show([file('ada.pdf', id(1))], {
      progress: { done: 1, total: 3 },
      trouble: ['Ben Stone: the file is empty.'],
    });
    expect(screen.getByRole('status').textContent).toContain('Handing in: 1 of 3 students');
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
    expect(does.stop).toHaveBeenCalled();
    expect(screen.getByRole('alert').textContent).toContain('Ben Stone: the file is empty.');
    expect(screen.queryByRole('button', { name: /^Hand in/ })).toBeNull();
  });

  test('without any say what to choose', () => {
    show([]);
    expect(screen.getByText(/Choose files, or a folder of them/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Hand in/ })).toBeNull();
  });
});
