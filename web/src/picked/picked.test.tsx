import {
  applyAll,
  type Change,
  type DocumentId,
  EMPTY_SHEET,
  type Mark,
  type MarkId,
  makeId,
  type NoteMark,
  standingMarks,
} from '@jotmark/core';
import { act, cleanup, render } from '@testing-library/react';
import { StrictMode } from 'react';
import { afterEach, expect, test, vi } from 'vitest';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { usePicked } from './usePicked.ts';

afterEach(cleanup);

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const note = (n: number, words: string): NoteMark => ({
  v: 2,
  id: id<MarkId>(n),
  document: id<DocumentId>(9),
  page: 0,
  colour: 'lake',
  focus: null,
  madeAt: n,
  kind: 'note',
  place: { on: 'spot', x: 10, y: 10 * n },
  words,
});

function picking(...there: Mark[]) {
  let sheet = EMPTY_SHEET;
  const did: Change[] = [];
  const keeper = {
    get view() {
      return { sheet };
    },
    do(changes: readonly Change[]) {
      did.push(...changes);
      sheet = applyAll(sheet, changes);
      again();
    },
  } as unknown as SheetKeeper;
  for (const mark of there)
    sheet = applyAll(sheet, [{ id: id(mark.madeAt + 50), base: null, type: 'put', mark, was: null }]);
  let now!: ReturnType<typeof usePicked>;
  const flush = vi.fn();
  function Picked() {
    now = usePicked({ keeper, readOnly: false, shown: standingMarks(sheet), flush });
    return null;
  }
  const view = (
    <StrictMode>
      <Picked />
    </StrictMode>
  );
  const { rerender } = render(view);
  const again = () => rerender(view);
  return { now: () => now, did, words: () => standingMarks(sheet).map((m) => (m as NoteMark).words) };
}

test('a note that says nothing goes with the hand that lets it go, once', () => {
  const p = picking(note(1, ''), note(2, 'count again'));
  act(() => p.now().pick([note(1, '')]));
  act(() => p.now().letGo());
  expect(p.did.map((c) => c.type)).toEqual(['remove']);
  expect(p.words()).toEqual(['count again']);
  act(() => p.now().letGo());
  expect(p.did).toHaveLength(1);
});

test('another one picked lets the first go; the same one again keeps it', () => {
  const p = picking(note(1, ''), note(2, 'count again'));
  act(() => p.now().pick([note(1, '')]));
  act(() => p.now().pick([note(1, '')], { edit: true }));
  expect(p.did).toEqual([]);
  act(() => p.now().pick([note(2, '')]));
  expect(p.words()).toEqual(['count again']);
  expect(p.now().marks.map((m) => m.id)).toEqual([id(2)]);
});

test('one more is picked with the others, and let go by itself', () => {
  const p = picking(note(1, 'a'), note(2, 'b'), note(3, 'c'));
  act(() => p.now().pick([note(1, 'a')]));
  act(() => p.now().pick([note(2, 'b'), note(3, 'c')], { add: true }));
  expect(p.now().marks).toHaveLength(3);
  act(() => p.now().pick([note(1, 'a')], { add: true }));
  expect(p.now().marks.map((m) => m.id)).toEqual([id(2), id(3)]);
});

test('from mark to mark in reading order, round and round', () => {
  const p = picking(note(2, 'b'), note(1, 'a'));
  act(() => void p.now().walk(1));
  expect(p.now().marks.map((m) => (m as NoteMark).words)).toEqual(['a']);
  act(() => void p.now().walk(1));
  expect(p.now().marks.map((m) => (m as NoteMark).words)).toEqual(['b']);
  act(() => void p.now().walk(1));
  expect(p.now().marks.map((m) => (m as NoteMark).words)).toEqual(['a']);
});
