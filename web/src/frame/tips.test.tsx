import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import Tips from './Tips.tsx';
import { tip } from './tip.ts';

beforeEach(() => {
  vi.useFakeTimers();
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
  vi.useRealTimers();
});

const show = () =>
  render(
    <>
      <button type="button" aria-label="Undo" {...tip('Undo')}>
        <span>sign</span>
      </button>
      <button type="button" {...tip(undefined)}>
        plain
      </button>
      <Tips />
    </>,
  );
const rest = (ms = 500) => act(() => vi.advanceTimersByTime(ms));
const over = (element: Element, pointerType = 'mouse') => {
  const event = new MouseEvent('pointerover', { bubbles: true, buttons: 0 });
  Object.defineProperty(event, 'pointerType', { value: pointerType });
  act(() => void element.dispatchEvent(event));
};

test('a mouse that rests on a sign, or on what lies in it, is told its words; one that goes on is not', () => {
  show();
  over(screen.getByText('sign'));
  rest(200);
  expect(screen.queryByRole('tooltip', { hidden: true })).toBeNull();
  over(screen.getByText('plain'));
  rest();
  expect(screen.queryByRole('tooltip', { hidden: true })).toBeNull();
  over(screen.getByText('sign'));
  rest();
  expect(screen.getByRole('tooltip', { hidden: true }).textContent).toBe('Undo');
});

test('a finger is told nothing', () => {
  show();
  over(screen.getByText('sign'), 'touch');
  rest();
  expect(screen.queryByRole('tooltip', { hidden: true })).toBeNull();
});

test('Escape and a press put it away', () => {
  show();
  const button = screen.getByText('sign');
  for (const away of [
    () => fireEvent.keyDown(document.body, { key: 'Escape' }),
    () => fireEvent.pointerDown(button),
  ]) {
    over(button);
    rest();
    expect(screen.getByRole('tooltip', { hidden: true })).toBeDefined();
    away();
    expect(screen.queryByRole('tooltip', { hidden: true })).toBeNull();
    over(screen.getByText('plain'));
  }
});
