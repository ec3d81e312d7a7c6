import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { strToU8, zipSync } from 'fflate';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { FromRoster } from './FromRoster.tsx';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));
afterEach(() => {
  cleanup();
  call.mockReset();
});

const FILES = {
  'users.csv': 'sourcedId,username,givenName,familyName\nu1,ada,Ada,Stone\nu2,ben,Ben,"Brook, jr"\n',
  'classes.csv': 'sourcedId,title\nc1,7K\n',
  'enrollments.csv':
    'sourcedId,classSourcedId,userSourcedId,role\ne1,c1,u1,student\ne2,c1,u2,student\ne3,c1,u9,student\n',
};

function Names() {
  return <pre>{(useLocation().state as { names: string }).names}</pre>;
}
function show() {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <Routes>
          <Route path="/" element={<FromRoster />} />
          <Route path="/classes/:classId/register" element={<Names />} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}
const choose = (...files: File[]) =>
  fireEvent.change(screen.getByLabelText('OneRoster files'), { target: { files } });

describe('a class from a register’s files', () => {
  test.each([
    ['as they lie', () => Object.entries(FILES).map(([name, text]) => new File([text], name))],
    [
      'in a zip',
      () => [
        new File(
          [
            zipSync(
              Object.fromEntries(Object.entries(FILES).map(([n, t]) => [`export/${n}`, strToU8(t)])),
            ) as Uint8Array<ArrayBuffer>,
          ],
          'roster.zip',
        ),
      ],
    ],
  ])('%s: what is in it, what does not fit, and its names go to be looked over', async (_, files) => {
    call.mockResolvedValue({ id: 'new' });
    show();
    choose(...files());
    await screen.findByText('2 students');
    expect(screen.getByText('1 thing does not fit')).toBeDefined();
    expect(screen.getByText(/names a person \(u9\) who is not in users.csv/)).toBeDefined();
    expect(call).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole('button', { name: 'Make class 7K' }));
    await waitFor(() => expect(call).toHaveBeenCalledWith('addClass', { body: { name: '7K', unit: '' } }));
    expect((await screen.findByText(/given,family,login/)).textContent).toBe(
      'given,family,login\r\nAda,Stone,ada\r\nBen,"Brook, jr",ben\r\n',
    );
  });

  test('what is no such file is told, and nothing is made', async () => {
    show();
    choose(new File(['no zip at all'], 'x.zip'));
    await screen.findByText(/These files could not be read. Nothing was changed/);
    choose(new File(['a,b'], 'something.csv'));
    await screen.findByText('There is no class in these files. Nothing was changed.');
    expect(call).not.toHaveBeenCalled();
  });
});
