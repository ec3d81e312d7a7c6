import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, expect, test } from 'vitest';
import { useAtOnce } from './useAtOnce.ts';

afterEach(cleanup);

let answer: { good(): void; bad(): void };
let read: (stands: boolean) => void;

function Box() {
  const [stands, setStands] = useState(false);
  read = setStands;
  const [shown, choose] = useAtOnce(
    stands,
    (next) =>
      new Promise<void>((resolve, reject) => {
        answer = {
          good: () => {
            setStands(next);
            resolve();
          },
          bad: () => reject(new Error('not now')),
        };
      }),
  );
  return <input type="checkbox" checked={shown} onChange={(e) => choose(e.target.checked)} />;
}

const box = () => screen.getByRole<HTMLInputElement>('checkbox').checked;

test('what is chosen shows at once, whatever is read until it is kept, and stays when it is', async () => {
  render(<Box />);
  fireEvent.click(screen.getByRole('checkbox'));
  expect(box()).toBe(true);
  // Read before it was kept: the old state comes once more.
  await act(async () => {
    read(true);
    read(false);
  });
  expect(box()).toBe(true);
  await act(async () => answer.good());
  expect(box()).toBe(true);
});

test('what could not be kept shows as it was', async () => {
  render(<Box />);
  fireEvent.click(screen.getByRole('checkbox'));
  expect(box()).toBe(true);
  await act(async () => answer.bad());
  expect(box()).toBe(false);
});

test('what is chosen while another is on its way is what shows', async () => {
  render(<Box />);
  fireEvent.click(screen.getByRole('checkbox'));
  const first = answer;
  fireEvent.click(screen.getByRole('checkbox'));
  expect(box()).toBe(false);
  await act(async () => first.good());
  expect(box()).toBe(false);
  await act(async () => answer.good());
  expect(box()).toBe(false);
});
