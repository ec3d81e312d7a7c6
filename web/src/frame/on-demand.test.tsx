import { act, cleanup, render, screen } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { onDemand } from './on-demand.tsx';

afterEach(cleanup);
const Sheet = ({ words }: { words: string }) => <p>{words}</p>;
const settle = () => act(async () => {});

test('a part comes when it is wanted, and is there at once the next time', async () => {
  const load = vi.fn(async () => Sheet);
  const Part = onDemand(load, { until: () => <i>soon</i> });
  const first = render(<Part words="here" />);
  expect(screen.getByText('soon')).toBeTruthy();
  await settle();
  expect(screen.getByText('here')).toBeTruthy();
  first.unmount();
  render(<Part words="again" />);
  expect(screen.getByText('again')).toBeTruthy();
  expect(load).toHaveBeenCalledTimes(1);
});

test('without a network it stays away, the view stands, and it comes when the network is back', async () => {
  const load = vi
    .fn<() => Promise<typeof Sheet>>()
    .mockRejectedValueOnce(new Error('away'))
    .mockResolvedValue(Sheet);
  const Part = onDemand(load, { until: () => <i>soon</i> });
  render(<Part words="here" />);
  await settle();
  expect(screen.getByText('soon')).toBeTruthy();
  window.dispatchEvent(new Event('online'));
  await settle();
  expect(screen.getByText('here')).toBeTruthy();
});
