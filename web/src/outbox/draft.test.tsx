import { act, render } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { useDraft } from './useDraft.ts';

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
});
afterEach(() => vi.useRealTimers());

type Typing = ReturnType<typeof useDraft<string>>;

function field(place: string) {
  const commit = vi.fn();
  let typing!: Typing;
  function Field() {
    typing = useDraft<string>({ place, commit, written: () => Promise.resolve() });
    return null;
  }
  const shown = render(<Field />);
  return { commit, type: (words: string) => act(() => typing.type('n', words)), close: shown.unmount };
}

test('words rest a moment, then they are a change', () => {
  const f = field('a');
  f.type('half');
  expect(f.commit).not.toHaveBeenCalled();
  act(() => vi.advanceTimersByTime(300));
  expect(f.commit).toHaveBeenCalledWith('n', 'half');
});

test('what a dead tab left is committed by the next one of the same person, and by nobody else', async () => {
  localStorage.setItem('note.ada', JSON.stringify({ about: 'n', words: 'left', at: Date.now() }));
  const other = field('note.bo');
  const heir = field('note.ada');
  await act(() => vi.advanceTimersByTimeAsync(4000));
  expect(other.commit).not.toHaveBeenCalled();
  expect(heir.commit).toHaveBeenCalledWith('n', 'left');
  expect(localStorage.getItem('note.ada')).toBeNull();
});

test.each(['{"about"', '"words"', '{"about":1,"words":"x","at":2}', 'null'])(
  'what cannot be read (%s) is no draft and breaks nothing',
  async (text) => {
    localStorage.setItem('odd', text);
    const f = field('odd');
    await act(() => vi.advanceTimersByTimeAsync(4000));
    expect(f.commit).not.toHaveBeenCalled();
    expect(localStorage.getItem('odd')).toBeNull();
  },
);
