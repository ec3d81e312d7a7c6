import type { ClassId, LogBack, LogEntry, PersonId } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { CallFailed } from '../api/call.ts';
import { LogHead } from './LogHead.tsx';
import { LogLines } from './LogLines.tsx';
import { RemarkForm } from './RemarkForm.tsx';
import { ReportPart, type Taking } from './ReportPart.tsx';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));
vi.mock('../frame/session.tsx', async () => {
  const { makeClock } = await import('../time/words.ts');
  return {
    useHere: () => ({
      session: { person: { id: 'me', role: 'teacher' }, school: { name: '', timeZone: 'Europe/London' } },
      clock: makeClock('Europe/London'),
    }),
  };
});
afterEach(() => {
  cleanup();
  call.mockReset();
});

const show = (what: ReactNode) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>{what}</MemoryRouter>
    </QueryClientProvider>,
  );
const note = (words: string, more: object = {}) => ({
  mark: words,
  words,
  suggestion: false,
  spoken: false,
  focus: 'method',
  colour: 'amber',
  sign: 'triangle',
  act: null,
  done: false,
  actAt: null,
  answer: '',
  ...more,
});
const work = (n: number, more: object = {}): LogBack =>
  ({
    of: 'work',
    at: n,
    assignmentId: `a${n}`,
    copyId: `c${n}`,
    title: `Work ${n}`,
    category: '',
    unit: '',
    handIn: 1,
    held: false,
    grade: 650,
    most: 1000,
    scale: { kind: 'points' },
    levels: [{ criterion: 'Reads', stands: '2' }],
    closing: 'Well read.',
    voice: null,
    notes: [note('Give the unit.')],
    reflected: '',
    ...more,
  }) as unknown as LogBack;
const remark = (more: object = {}): LogEntry =>
  ({
    of: 'remark',
    id: 'r1',
    at: 9,
    by: 'Ms Quill',
    mine: true,
    words: 'Helped Ben.',
    work: 'quiz',
    strand: '',
    answers: [],
    ...more,
  }) as unknown as LogEntry;

describe('a feedback log', () => {
  test('tells grade, level and words of each piece of work, and what is held', () => {
    show(
      <LogLines
        entries={[work(1), work(2, { held: true, notes: [] })]}
        copyAt={(e) => `/desk/${e.copyId}`}
        answersFor="ada"
        onChanged={() => {}}
      />,
    );
    expect(screen.getAllByText('6½ / 10 · Reads 2')).toHaveLength(2);
    expect(screen.getByText('held, not handed back')).toBeDefined();
    expect(screen.getByText('0 of 1 note dealt with')).toBeDefined();
    expect(screen.getByRole('link', { name: 'Work 1' }).getAttribute('href')).toBe('/desk/c1');
  });

  test('for the family nothing leads anywhere, and nobody answers', () => {
    show(
      <LogLines
        entries={[work(1), remark({ mine: false })]}
        copyAt={null}
        answersFor={null}
        onChanged={() => {}}
      />,
    );
    expect(screen.queryByRole('link')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Answer' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Withdraw' })).toBeNull();
  });

  test('a line goes into the report by one move; a remark is withdrawn only after it was said what goes', async () => {
    const onTake = vi.fn();
    const onChanged = vi.fn();
    call.mockResolvedValue({ ok: true });
    show(
      <LogLines
        entries={[work(1), remark()]}
        copyAt={null}
        answersFor="ada"
        onTake={onTake}
        onChanged={onChanged}
      />,
    );
    fireEvent.click(screen.getByRole('button', { name: 'Add to report: Well read.' }));
    expect(onTake).toHaveBeenCalledWith('Well read.');
    fireEvent.click(screen.getByRole('button', { name: 'Withdraw' }));
    expect(call).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole('button', { name: 'Withdraw the remark' }));
    await waitFor(() => expect(onChanged).toHaveBeenCalled());
    expect(call).toHaveBeenCalledWith('removeRemark', { params: { remarkId: 'r1' } });
  });

  test('an answer that could not be sent stays where it was typed', async () => {
    call.mockRejectedValue(new CallFailed('offline'));
    show(<LogLines entries={[remark()]} copyAt={null} answersFor="ada" onChanged={() => {}} />);
    fireEvent.click(screen.getByRole('button', { name: 'Answer' }));
    const field = screen.getByLabelText('Answer to this remark') as HTMLTextAreaElement;
    fireEvent.change(field, { target: { value: 'Thank you.' } });
    fireEvent.click(screen.getByRole('button', { name: 'Send the answer' }));
    await waitFor(() => expect(call).toHaveBeenCalled());
    expect((screen.getByLabelText('Answer to this remark') as HTMLTextAreaElement).value).toBe('Thank you.');
  });

  test('in short: what comes again and what has stopped, what was dealt with and how soon', () => {
    const day = 86_400_000;
    const entries = [
      work(day, { notes: [note('Give the unit.', { done: true, actAt: 3 * day, act: 'sorted' })] }),
      work(2 * day, { notes: [note('Give the unit')] }),
      work(3 * day, { notes: [] }),
      work(4 * day, { notes: [note('Say why.', { focus: null })] }),
    ];
    show(<LogHead entries={entries} name="Ada" />);
    expect(screen.getByText(/of 3 notes dealt with, after 2 days on average/)).toBeDefined();
    expect(screen.getByText(/“Give the unit”/).textContent).toMatch(
      /2 × in 2 pieces of work, not since 3 Jan/,
    );
  });
});

describe('a remark without a copy', () => {
  const log = { classId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca' as ClassId };
  const form = (to: string[]) =>
    show(<RemarkForm classId={log.classId} to={to as PersonId[]} strands={['helping']} onSaid={() => {}} />);

  test('is said to those who are chosen, with its day, kind of work and strand; what failed stays', async () => {
    call.mockRejectedValueOnce(new CallFailed('offline')).mockResolvedValue({ ok: true });
    form(['p1', 'p2']);
    const field = screen.getByLabelText('A remark') as HTMLTextAreaElement;
    fireEvent.change(field, { target: { value: ' Helped Ben. ' } });
    fireEvent.change(screen.getByLabelText('Kind of work'), { target: { value: 'quiz' } });
    const say = () => fireEvent.click(screen.getByRole('button', { name: 'Send to 2 students' }));
    say();
    await waitFor(() => expect(call).toHaveBeenCalledTimes(1));
    expect(field.value).toBe(' Helped Ben. ');
    const first = call.mock.lastCall![1].body;
    expect(first).toMatchObject({ to: ['p1', 'p2'], words: 'Helped Ben.', work: 'quiz', strand: '' });
    await waitFor(() =>
      expect(screen.getByRole('button', { name: /^Send/ })).toHaveProperty('disabled', false),
    );
    say();
    await waitFor(() => expect(field.value).toBe(''));
    // The same remark, however often it is sent.
    expect(call.mock.lastCall![1].body.id).toBe(first.id);
  });

  test('to nobody it cannot be said', () => {
    form([]);
    fireEvent.change(screen.getByLabelText('A remark'), { target: { value: 'x' } });
    expect(screen.getByRole('button', { name: 'Choose students first' })).toHaveProperty('disabled', true);
  });
});

describe('a report', () => {
  const student = { id: 'p1' as PersonId, given: 'Ada', family: 'Stone' };
  const begun = () => {
    const taking = { current: { take: null, waits: ['Well read.'] } as Taking };
    show(<ReportPart classId={'c' as ClassId} student={student} taking={taking} />);
    return taking;
  };

  test('takes what was taken over before it was there, and what comes then; it is kept on this device until it is saved', async () => {
    call.mockImplementation(async (name: string) => {
      if (name === 'reports') return [];
      throw new CallFailed('offline');
    });
    const taking = begun();
    const field = (await screen.findByLabelText('Report about Ada')) as HTMLTextAreaElement;
    await waitFor(() => expect(field.value).toBe('Well read.'));
    act(() => taking.current.take!('Give the unit.'));
    expect(field.value).toBe('Well read.\nGive the unit.');
    expect(screen.getByText('5 words, 25 letters')).toBeDefined();
    expect([...Object.values(localStorage)]).toContain('Well read.\nGive the unit.');
    await screen.findByText(/What you typed is kept on this device/, {}, { timeout: 3000 });
    localStorage.clear();
  });
});
