import { type CopyId, type HandInId, makeId, type Pile, type PileRow, type SeenName } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import type { ReactElement } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { SessionProvider } from '../frame/session.tsx';
import { outbox } from '../outbox/outbox.ts';
import { HandBackDialog } from './HandBackDialog.tsx';
import { PileTable } from './PileTable.tsx';
import { StackSide } from './StackSide.tsx';
import { type HandBackPlan, useHandBackPlan } from './useHandBackPlan.ts';

const session = {
  person: { id: makeId(1, new Uint8Array(10)), role: 'teacher', given: 'Maren', family: 'Q', login: 'maren' },
  token: '',
  school: { name: 'Test', timeZone: 'UTC' },
  demo: null,
  firstPassword: false,
  reset: null,
  needsStep: false,
  standIns: false,
};
beforeEach(() => {
  // A screen for a mouse.
  vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener() {}, removeEventListener() {} }));
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(session)));
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

let n = 1;
const row = (family: string, over: Partial<PileRow> = {}): PileRow => ({
  copyId: makeId(n++, new Uint8Array(10).fill(n)) as CopyId,
  student: { given: 'Ada', family } as SeenName,
  place: 'in',
  excused: false,
  unread: 0,
  documents: 1,
  handInId: null,
  gradeVersion: null,
  doneVersion: null,
  cover: null,
  handedInAt: Date.UTC(2026, 10, 23, 16, 2),
  late: 0,
  overdue: false,
  handInNumber: 1,
  grade: null,
  typed: null,
  computed: null,
  pages: 3,
  reading: { state: 'done', done: 3, total: 3, error: null, ahead: null },
  back: null,
  recalledAt: null,
  opened: true,
  ...over,
});

async function show(element: ReactElement) {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SessionProvider>
        <MemoryRouter>{element}</MemoryRouter>
      </SessionProvider>
    </QueryClientProvider>,
  );
  await screen.findByRole('table');
}

const line = (family: string) => screen.getByRole('row', { name: new RegExp(family) });

describe('the pile as a table', () => {
  test('says of every copy where it is, and what else is to be known', async () => {
    const rows = [
      row('Late', { late: 2 * 3_600_000 }),
      row('Missing', {
        place: 'with-student',
        handedInAt: null,
        overdue: true,
        reading: null,
        back: null,
        pages: null,
        handInNumber: 0,
      }),
      row('Marked', { place: 'marked', grade: 850 }),
      row('Ungraded', { place: 'marked' }),
      row('Reading', { reading: { state: 'running', done: 2, total: 7, error: null, ahead: null } }),
      row('Broken', { reading: { state: 'failed', done: 0, total: 0, error: 'broken', ahead: null } }),
    ];
    await show(
      <PileTable most={1000} scale={{ kind: 'points' }} rows={rows} chosen={new Set()} onChoose={() => {}} />,
    );
    expect(line('Late').textContent).toContain('late 2 h');
    expect(line('Missing').textContent).toContain('with studentoverdue');
    expect(within(line('Marked')).getByLabelText<HTMLInputElement>(/^Grade of/).value).toBe('8½');
    expect(line('Ungraded').textContent).toContain('no grade');
    expect(line('Reading').textContent).toContain('reading page 2 of 7');
    expect(line('Broken').textContent).toContain('pages cannot be read');
  });

  test('says of what went back what its student did with it, and what was recalled', async () => {
    const back = {
      number: 1,
      at: 1,
      unfinished: false,
      seenAt: 2,
      notes: 3,
      opened: 2,
      done: 1,
      recordings: 2,
      heard: 1,
    };
    const rows = [
      row('Done', { place: 'handed-back', back }),
      row('Unseen', { place: 'handed-back', back: { ...back, seenAt: null } }),
      row('Words', { place: 'being-marked', back: { ...back, unfinished: true, notes: 0, recordings: 0 } }),
      row('Recalled', { place: 'marked', grade: 800, recalledAt: 5 }),
    ];
    await show(
      <PileTable most={1000} scale={{ kind: 'points' }} rows={rows} chosen={new Set()} onChoose={() => {}} />,
    );
    expect(line('Done').textContent).toContain('1 of 3 done · 1 of 2 heard');
    expect(line('Unseen').textContent).toContain('not looked at');
    expect(line('Unseen').textContent).not.toContain('heard');
    expect(line('Words').textContent).toContain('comments went back · looked at');
    expect(line('Recalled').textContent).toContain('recalled');
  });

  test('what is with the student is scored without pages, what came in is opened; every copy can be chosen, to write to its student too', async () => {
    const rows = [
      row('Missing', { place: 'with-student' }),
      row('Back', { place: 'handed-back', handInId: makeId(1, new Uint8Array(10)) as HandInId }),
      row('Here'),
    ];
    await show(
      <PileTable most={1000} scale={{ kind: 'points' }} rows={rows} chosen={new Set()} onChoose={() => {}} />,
    );
    expect(within(line('Missing')).getByRole('link').getAttribute('href')).toBe(`/score/${rows[0]!.copyId}`);
    expect(within(line('Back')).getByRole('link').getAttribute('href')).toBe(`/desk/${rows[1]!.copyId}`);
    for (const family of ['Missing', 'Back', 'Here'])
      expect(within(line(family)).getByRole('checkbox')).toBeDefined();
  });

  test('one is chosen, all are chosen, none are', async () => {
    const rows = [row('One'), row('Two'), row('Gone', { place: 'with-student' })];
    const choose = vi.fn();
    await show(
      <PileTable
        most={1000}
        scale={{ kind: 'points' }}
        rows={rows}
        chosen={new Set([rows[0]!.copyId])}
        onChoose={choose}
      />,
    );
    fireEvent.click(screen.getByLabelText('Choose Two, Ada'));
    expect([...choose.mock.calls[0]![0]]).toEqual([rows[0]!.copyId, rows[1]!.copyId]);
    fireEvent.click(screen.getByLabelText('Choose One, Ada'));
    expect([...choose.mock.calls[1]![0]]).toEqual([]);
    fireEvent.click(screen.getByLabelText('Choose all'));
    expect([...choose.mock.calls[2]![0]]).toEqual(rows.map((r) => r.copyId));
  });
});

describe('grades typed into the pile', () => {
  const handIn = (k: number) => makeId(k, new Uint8Array(10).fill(k)) as HandInId;
  const inRows = () => [
    row('One', { handInId: handIn(1) }),
    row('Two', { handInId: handIn(2), grade: 700, place: 'marked' }),
  ];

  test('Enter keeps a grade once and goes to the next line; the same grade, or Escape, changes nothing', async () => {
    const write = vi.spyOn(outbox, 'writeSlip').mockResolvedValue(null);
    await show(
      <PileTable
        most={1000}
        scale={{ kind: 'points' }}
        rows={inRows()}
        chosen={new Set()}
        onChoose={() => {}}
      />,
    );
    const [one, two] = screen.getAllByLabelText(/^Grade of/) as [HTMLInputElement, HTMLInputElement];
    one.focus();
    fireEvent.change(one, { target: { value: '8,5' } });
    fireEvent.keyDown(one, { key: 'Enter' });
    expect(document.activeElement).toBe(two);
    expect(write).toHaveBeenCalledTimes(1);
    expect(write).toHaveBeenCalledWith({
      sheetId: handIn(1),
      field: 'grade',
      value: 850,
      was: null,
      base: null,
    });
    fireEvent.change(two, { target: { value: '7' } });
    fireEvent.keyDown(two, { key: 'Enter' });
    two.focus();
    fireEvent.change(two, { target: { value: '3' } });
    fireEvent.keyDown(two, { key: 'Escape' });
    two.blur();
    expect(write).toHaveBeenCalledTimes(1);
    expect(two.value).toBe('7');
  });

  test('called marked, and not marked again, by its place', async () => {
    const write = vi.spyOn(outbox, 'writeSlip').mockResolvedValue(null);
    write.mockClear();
    await show(
      <PileTable
        most={1000}
        scale={{ kind: 'points' }}
        rows={inRows()}
        chosen={new Set()}
        onChoose={() => {}}
      />,
    );
    fireEvent.click(screen.getByRole('button', { name: 'marked' }));
    expect(write.mock.calls[0]![0]).toMatchObject({ field: 'done', value: false, was: true });
  });

  test('of four hundred copies those in sight are there, and the table says how many there are', async () => {
    window.innerHeight = 800;
    window.scrollTo = () => {};
    const rows = Array.from({ length: 400 }, (_, i) => row(`Student${i}`));
    await show(
      <PileTable most={1000} scale={{ kind: 'points' }} rows={rows} chosen={new Set()} onChoose={() => {}} />,
    );
    expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('401');
    const lines = screen.getAllByLabelText(/^Choose Student/).length;
    expect(lines).toBeGreaterThan(30);
    expect(lines).toBeLessThan(120);
  });
});

describe('the pile from the side', () => {
  test('counts only the places where there is something', () => {
    render(
      <StackSide rows={[row('A'), row('B'), row('C', { place: 'marked' })]}>
        <p>2 to mark</p>
      </StackSide>,
    );
    expect(screen.getAllByRole('term').map((t) => t.textContent)).toEqual(['in', 'marked']);
    expect(screen.getAllByRole('definition').map((d) => d.textContent)).toEqual(['2', '1']);
  });
});

describe('the one question before students see anything', () => {
  const going = [row('Done', { place: 'marked', grade: 900 }), row('Blank', { place: 'marked' })];
  const found = [{ copyId: going[1]!.copyId, warnings: ['no-grade'] }];
  function Asked({ onHandBack }: { onHandBack(plan: HandBackPlan): void }) {
    const plan = useHandBackPlan();
    return (
      <HandBackDialog
        pile={{ assignment: { id: going[0]!.copyId as string, most: 1000 } } as unknown as Pile}
        plan={plan}
        going={going}
        staying={[row('Half', { place: 'being-marked' }), row('Home', { place: 'with-student' })]}
        busy={false}
        onCancel={() => {}}
        onHandBack={() => onHandBack(plan)}
      />
    );
  }
  const open = async (onHandBack: (plan: HandBackPlan) => void = () => {}) => {
    vi.stubGlobal(
      'fetch',
      async (address: string) => new Response(JSON.stringify(address.endsWith('check') ? found : session)),
    );
    render(
      <QueryClientProvider client={new QueryClient()}>
        <SessionProvider>
          <MemoryRouter>
            <Asked onHandBack={onHandBack} />
          </MemoryRouter>
        </SessionProvider>
      </QueryClientProvider>,
    );
    return screen.findByRole('dialog');
  };

  test('says how many go, names who stays and why, and what one may want to look at', async () => {
    const back = vi.fn();
    const dialog = await open(back);
    await within(dialog).findByRole('link', { name: 'Ada Blank' });
    const text = dialog.textContent!;
    expect(text).toContain('Hand back 2 copies?');
    expect(text).toContain('Without a grade: Ada Blank');
    expect(text).toContain('Not marked, stays with you (1): Ada Half.');
    expect(text).toContain('Not handed in (1): Ada Home.');
    fireEvent.click(screen.getByRole('button', { name: 'Hand back 2 copies' }));
    expect(back.mock.calls[0]![0]).toMatchObject({ at: null, how: { tell: true, unfinished: false } });
  });

  test('says in words what students will see, as one chooses; a time must be set before it goes then', async () => {
    const day = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10);
    const back = vi.fn();
    const dialog = await open(back);
    expect(dialog.textContent).toContain(
      'Their students see marks, notes, grade and closing words, from this moment on',
    );
    fireEvent.click(screen.getByLabelText('At a set time'));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Hand back 2 copies' }).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('When they go back'), { target: { value: `${day}T18:00` } });
    fireEvent.click(screen.getByLabelText(/^Grade after reading/));
    expect(dialog.textContent).toContain('and the grade once they have opened all notes, from that time on');
    fireEvent.click(screen.getByLabelText(/^As unfinished/));
    expect(dialog.textContent).toContain('without points and without a grade');
    fireEvent.click(screen.getByRole('button', { name: /^Hand back 2 copies \d/ }));
    expect(back.mock.calls[0]![0]).toMatchObject({
      at: Date.parse(`${day}T18:00Z`),
      how: { unfinished: true, gradeAfter: false },
    });
  });
});
