import { type CriterionId, type Had, type HandInId, type LevelId, makeId } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { GradeField } from './GradeField.tsx';
import { standsAtPlace, toggleHad } from './score-moves.ts';

vi.mock('../frame/session.tsx', () => ({
  useHere: () => ({ session: { person: { id: 'me', role: 'teacher' } } }),
}));

beforeEach(() => localStorage.clear());
afterEach(cleanup);

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;

function Field({ begin = null, onValue }: { begin?: number | null; onValue(v: number | null): void }) {
  const [value, setValue] = useState<number | null>(begin);
  return (
    <GradeField
      label="Grade"
      sheetId={id<HandInId>(1)}
      className="field"
      value={value}
      most={1800}
      scale={{ kind: 'points' }}
      onValue={(v) => {
        setValue(v);
        onValue(v);
      }}
    />
  );
}

function show(begin: number | null = null) {
  const onValue = vi.fn();
  render(<Field begin={begin} onValue={onValue} />);
  return { onValue, field: screen.getByLabelText<HTMLInputElement>('Grade') };
}

describe('a grade is one change when it is finished', () => {
  test('14½ retyped as 25, of 18, stays 14½: no digit of it was ever kept; the refused one stays with its reason until it is mended', () => {
    const { onValue, field } = show(1450);
    field.focus();
    expect([field.selectionStart, field.selectionEnd]).toEqual([0, '14½'.length]);
    for (const value of ['2', '25']) fireEvent.change(field, { target: { value } });
    expect(onValue).not.toHaveBeenCalled();
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(onValue).not.toHaveBeenCalled();
    expect(field.value).toBe('25');
    expect(screen.getByRole('alert').textContent).toBe('More than the 18 that can be earned. 14½ stays.');
    field.blur();
    expect(field.value).toBe('25');
    field.focus();
    fireEvent.change(field, { target: { value: '15' } });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(onValue.mock.calls).toEqual([[1500]]);
    expect(screen.queryByRole('alert')).toBeNull();
  });

  test('leaving keeps it once, Escape brings the last good one back, emptied is none', () => {
    const { onValue, field } = show(800);
    field.focus();
    fireEvent.change(field, { target: { value: '8,5' } });
    fireEvent.blur(field);
    expect(onValue.mock.calls).toEqual([[850]]);
    field.focus();
    fireEvent.change(field, { target: { value: '3' } });
    fireEvent.keyDown(field, { key: 'Escape' });
    expect([field.value, onValue.mock.calls.length]).toEqual(['8½', 1]);
    field.focus();
    fireEvent.change(field, { target: { value: '' } });
    fireEvent.blur(field);
    expect(onValue.mock.calls.at(-1)).toEqual([null]);
  });

  test('Ctrl and Enter keep it before the copy is left', () => {
    const { onValue, field } = show();
    field.focus();
    fireEvent.change(field, { target: { value: '7' } });
    fireEvent.keyDown(field, { key: 'Enter', ctrlKey: true });
    fireEvent.blur(field);
    expect(onValue.mock.calls).toEqual([[700]]);
  });

  test('what was typed and not finished stands there again when the page is opened anew', () => {
    const { field } = show(800);
    field.focus();
    fireEvent.change(field, { target: { value: '1' } });
    cleanup();
    expect(show(800).field.value).toBe('1');
  });
});

describe('words of a descriptor', () => {
  const level = id<LevelId>(1);
  test('neighbours become one, what was all marked is let go, other levels stay', () => {
    const other: Had = { level: id<LevelId>(2), from: 0, to: 3 };
    const one = toggleHad([other], level, 0, 4);
    const two = toggleHad(one, level, 5, 9);
    expect(two).toEqual([other, { level, from: 0, to: 9 }]);
    expect(toggleHad(two, level, 5, 9)).toEqual([other, { level, from: 0, to: 5 }]);
  });

  test('a key stands for the level at its place, and with Shift for between it and the next', () => {
    const levels = [1, 2].map((n) => ({ id: id<LevelId>(n), name: '', descriptor: '', points: n * 100 }));
    const criterion = { id: id<CriterionId>(9), name: 'x', weight: 100, levels };
    expect(standsAtPlace(criterion, 0, true)).toEqual({ is: 'between', lower: id(1), upper: id(2) });
    expect([standsAtPlace(criterion, 1, true), standsAtPlace(criterion, 4, false)]).toEqual([null, null]);
  });
});
