import { act, cleanup, render } from '@testing-library/react';
import { useRef } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { ALL_UP_TO, useRowsInSight } from './useRowsInSight.ts';

beforeEach(() => {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
  window.innerHeight = 800;
  // jsdom does not scroll.
  window.scrollTo = ((to: number | ScrollToOptions, y?: number) => {
    (window as { scrollY: number }).scrollY = typeof to === 'object' ? (to.top ?? 0) : (y ?? 0);
    window.dispatchEvent(new Event('scroll'));
  }) as typeof window.scrollTo;
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  (window as { scrollY: number }).scrollY = 0;
});

const HEIGHT = 20;
function rows(count: number) {
  let now!: ReturnType<typeof useRowsInSight>;
  function List() {
    const list = useRef<HTMLDivElement>(null);
    now = useRowsInSight(count, HEIGHT, list);
    return <div ref={list} />;
  }
  render(<List />);
  return () => now;
}

test('as many as a class has are all there', () => {
  for (const count of [0, 1, ALL_UP_TO])
    expect(rows(count)()).toEqual({ from: 0, to: count, before: 0, after: 0 });
});

test('of thousands only those near the window are there, and the room for the rest is kept', () => {
  const now = rows(5000);
  const { from, to, before, after } = now();
  expect(from).toBe(0);
  expect(to).toBeGreaterThanOrEqual(40);
  expect(to).toBeLessThan(100);
  expect(before + (to - from) * HEIGHT + after).toBe(5000 * HEIGHT);
  act(() => window.scrollTo(0, 50_000));
  const then = now();
  expect(then.from).toBeLessThanOrEqual(2500);
  expect(then.to).toBeGreaterThanOrEqual(2540);
  expect(then.to - then.from).toBeLessThan(120);
  expect(then.before + (then.to - then.from) * HEIGHT + then.after).toBe(5000 * HEIGHT);
});
