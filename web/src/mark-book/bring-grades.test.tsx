import type { ClassId, MarkBook } from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { BringGrades } from './BringGrades.tsx';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));
vi.mock('../frame/session.tsx', () => ({
  useHere: () => ({ session: { school: { name: '', timeZone: 'Europe/London' } } }),
}));
afterEach(() => {
  cleanup();
  call.mockReset();
});

const FILES = {
  'users.csv':
    'sourcedId,username,givenName,familyName\nu1,ada,Ada,Stone\nu2,dan,Dan,Elsewhere\nu3,kim1,Kim,Lee\n',
  'classes.csv': 'sourcedId,title\nc1,7K\n',
  'enrollments.csv': 'sourcedId,classSourcedId,userSourcedId,role\ne1,c1,u1,student\n',
  'lineItems.csv': 'sourcedId,title,classSourcedId,resultValueMax,dueDate\nl1,Tides,c1,25,2026-11-20\n',
  'results.csv':
    'sourcedId,lineItemSourcedId,studentSourcedId,score\nr1,l1,u1,18.5\nr2,l1,u2,9\nr3,l1,u3,12\n',
};
const book = {
  className: '7K',
  students: [
    { id: 'p1', given: 'Ada', family: 'Stone' },
    { id: 'p2', given: 'Kim', family: 'Lee' },
    { id: 'p3', given: 'Kim', family: 'Lee' },
  ],
} as unknown as MarkBook;

test('grades out of a register: whose they are is told before anything is entered; of two of one name neither gets one', async () => {
  call.mockResolvedValue({ works: 1, grades: 1, kept: 0 });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <BringGrades classId={'c' as ClassId} book={book} />
    </QueryClientProvider>,
  );
  fireEvent.change(screen.getByLabelText('OneRoster files with grades'), {
    target: { files: Object.entries(FILES).map(([name, text]) => new File([text], name)) },
  });
  await screen.findByText('Tides');
  expect(screen.getByText(/Not in this class, or twice: Dan Elsewhere, Kim Lee/)).toBeDefined();
  expect(call).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole('button', { name: 'Enter 1 grade' }));
  await waitFor(() => expect(call).toHaveBeenCalled());
  expect(call.mock.lastCall![1].body.works).toEqual([
    {
      title: 'Tides',
      category: '',
      most: 2500,
      dueAt: Date.parse('2026-11-20T12:00:00Z'),
      grades: [{ personId: 'p1', grade: 1850 }],
    },
  ]);
});
