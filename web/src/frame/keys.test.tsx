import { cleanup, fireEvent, render } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { type KeyBinding, sign, useKeys } from './useKeys.ts';

afterEach(cleanup);

function keys(bindings: readonly KeyBinding[], off = false) {
  function View() {
    useKeys(bindings, off);
    return (
      <>
        <input aria-label="words" />
        <input type="checkbox" aria-label="tick" />
        <div role="menu" tabIndex={-1} aria-label="menu" />
      </>
    );
  }
  const { getByLabelText } = render(<View />);
  /** Whether the browser still does what it does with the key. */
  return (key: string, more: object = {}, at?: string) =>
    fireEvent.keyDown(at ? getByLabelText(at) : document.body, { key, ...more });
}

test('the first binding that fits and does something has the key; the browser has what nobody took', () => {
  const first = vi.fn(() => false);
  const second = vi.fn();
  const press = keys([
    { keys: 'm', does: first },
    { keys: 'm Delete', does: second },
  ]);
  expect(press('m')).toBe(false);
  expect([first, second].map((f) => f.mock.calls.length)).toEqual([1, 1]);
  expect(press('x')).toBe(true);
  expect(press('Delete')).toBe(false);
});

test('keys held besides must be those that were asked for, no more and no less', () => {
  const undo = vi.fn();
  const redo = vi.fn();
  const press = keys([
    { keys: '$mod+z', does: undo },
    { keys: '$mod+Shift+z', does: redo },
  ]);
  press('z');
  press('z', { ctrlKey: true });
  press('Z', { ctrlKey: true, shiftKey: true });
  press('z', { ctrlKey: true, altKey: true });
  expect([undo, redo].map((f) => f.mock.calls.length)).toEqual([1, 1]);
});

test('where words are typed a key belongs to the words; a tick box is no such place, a menu has its own keys', () => {
  const next = vi.fn();
  const done = vi.fn();
  const press = keys([
    { keys: 'n', does: next },
    { keys: '$mod+Enter', does: done, inFields: true },
  ]);
  press('n', {}, 'words');
  press('n', {}, 'menu');
  expect(next).not.toHaveBeenCalled();
  press('n', {}, 'tick');
  expect(next).toHaveBeenCalledTimes(1);
  press('Enter', { ctrlKey: true }, 'words');
  expect(done).toHaveBeenCalledTimes(1);
});

test('a sign is the same with Shift and without', () => {
  const help = vi.fn();
  const press = keys([{ keys: sign('?'), does: help }]);
  press('?');
  press('?', { shiftKey: true });
  expect(help).toHaveBeenCalledTimes(2);
});

test('off, no key is heard', () => {
  const next = vi.fn();
  keys([{ keys: 'n', does: next }], true)('n');
  expect(next).not.toHaveBeenCalled();
});
