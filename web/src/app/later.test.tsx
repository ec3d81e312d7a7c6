import { cleanup, render, screen } from '@testing-library/react';
import { Suspense } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Fallen } from './Fallen.tsx';
import { later, wasLoadedAnew } from './later.tsx';

const reload = vi.fn();
beforeEach(() => {
  sessionStorage.clear();
  reload.mockReset();
  vi.stubGlobal('location', { ...window.location, reload });
  vi.spyOn(console, 'error').mockImplementation(() => {});
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

const shown = (View: React.ComponentType) =>
  render(
    <Fallen>
      <Suspense fallback="waits">
        <View />
      </Suspense>
    </Fallen>,
  );

test('a view is loaded when it is wanted, and once it is there shown without waiting', async () => {
  const load = vi.fn(async () => () => <p>the desk</p>);
  const View = later(load);
  expect(load).not.toHaveBeenCalled();
  shown(View);
  expect(await screen.findByText('the desk')).toBeDefined();
  cleanup();
  shown(View);
  expect(screen.queryByText('waits')).toBeNull();
  expect(load).toHaveBeenCalledTimes(1);
});

test('a part that is gone reloads the page once, which then says so once', async () => {
  const View = later(() => Promise.reject(new Error('gone')));
  shown(View);
  await vi.waitFor(() => expect(reload).toHaveBeenCalledTimes(1));
  expect(wasLoadedAnew()).toBe(true);
  expect(wasLoadedAnew()).toBe(false);
});

test('a part that is still gone after that is told, not reloaded for ever', async () => {
  const gone = () => later(() => Promise.reject(new Error('gone')));
  shown(gone());
  await vi.waitFor(() => expect(reload).toHaveBeenCalledTimes(1));
  cleanup();
  shown(gone());
  expect(await screen.findByText('This part of Jotmark could not be loaded')).toBeDefined();
  expect(reload).toHaveBeenCalledTimes(1);
});

test('without a network nothing is reloaded: it is told', async () => {
  vi.spyOn(navigator, 'onLine', 'get').mockReturnValue(false);
  shown(later(() => Promise.reject(new Error('no network'))));
  expect(await screen.findByRole('alert')).toBeDefined();
  expect(reload).not.toHaveBeenCalled();
});

test('loaded before it is wanted; failing then is no matter', async () => {
  const load = vi
    .fn<() => Promise<React.ComponentType>>()
    .mockRejectedValueOnce(new Error('no network'))
    .mockResolvedValue(() => <p>the pile</p>);
  const View = later(load);
  View.ready();
  await vi.waitFor(() => expect(load).toHaveBeenCalledTimes(1));
  shown(View);
  expect(await screen.findByText('the pile')).toBeDefined();
  expect(reload).not.toHaveBeenCalled();
});
