import { type BoxMark, type DocumentId, type Mark, type MarkId, makeId, type TextMark } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { PickedFrame } from './PickedFrame.tsx';

vi.mock('../paper/measure.ts', () => ({
  HAND: 'hand',
  measureHand: (text: string, size: number) => text.length * size * 0.5,
}));
afterEach(cleanup);

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const base = {
  v: 2 as const,
  document: id<DocumentId>(9),
  page: 0,
  colour: 'garnet' as const,
  focus: null,
  madeAt: 1,
};
const box: BoxMark = { ...base, id: id<MarkId>(1), kind: 'box', box: [100, 100, 200, 150], width: 2 };
const words: TextMark = {
  ...base,
  id: id<MarkId>(2),
  kind: 'text',
  x: 100,
  y: 100,
  w: 100,
  h: 16,
  size: 12,
  turn: 0,
  words: 'see the map again',
};

function show(marks: readonly Mark[], zoom = 1, turn: 0 | 90 = 0) {
  const heard = {
    onDrag: vi.fn(),
    onResize: vi.fn(),
    onPen: vi.fn(),
    onCopy: vi.fn(),
    onDouble: vi.fn(),
    onKeep: null,
    onRemove: vi.fn(),
  };
  const { container } = render(
    <div data-page="0">
      <PickedFrame marks={marks} view={{ width: 600, height: 800, turn, zoom }} pens={[]} {...heard} />
    </div>,
  );
  container.querySelector('[data-page]')!.getBoundingClientRect = () =>
    new DOMRect(0, 0, 600 * zoom, 800 * zoom);
  const pull = (
    name: string,
    to: readonly [number, number],
    over: object = {},
    end: 'pointerUp' | 'pointerCancel' = 'pointerUp',
  ) => {
    const handle = screen.getByRole('button', { name });
    handle.setPointerCapture = () => {};
    fireEvent.pointerDown(handle, { pointerId: 1, clientX: 0, clientY: 0 });
    fireEvent(
      handle,
      new MouseEvent('pointermove', { bubbles: true, clientX: to[0], clientY: to[1], ...over }),
    );
    fireEvent[end](handle, { pointerId: 1 });
  };
  return { ...heard, pull };
}

describe('the frame round what is picked', () => {
  test('its corner makes marks larger: shown while it is pulled, so when it is let go', () => {
    const { pull, onDrag, onResize } = show([box]);
    // From 102 × 52 round it (with its line) to twice that.
    pull('Resize', [303, 203]);
    const after = { ...box, box: [101, 101, 301, 201] };
    expect(onDrag.mock.calls[0]![0]).toEqual([after]);
    expect(onResize).toHaveBeenCalledExactlyOnceWith([box], [after]);
    expect(onDrag).toHaveBeenLastCalledWith(null);
  });

  test('with Shift in proportion; a pull that is broken off changes nothing', () => {
    const { pull, onResize, onDrag } = show([box]);
    pull('Resize', [303, 0], { shiftKey: true });
    const [[, [even]]] = onResize.mock.calls as [[unknown, [BoxMark]]];
    expect([even.box[2] - even.box[0], even.box[3] - even.box[1]]).toEqual([200, 100]);
    onResize.mockClear();
    pull('Resize', [500, 500], {}, 'pointerCancel');
    expect(onResize).not.toHaveBeenCalled();
    expect(onDrag).toHaveBeenLastCalledWith(null);
  });

  test('words are made wider or narrower by themselves, at any zoom, and wrap anew', () => {
    const { pull, onResize } = show([words], 2);
    pull('Change width', [320, 220]);
    const [[, [narrow]]] = onResize.mock.calls as [[unknown, [TextMark]]];
    expect(narrow).toMatchObject({ w: 60, size: 12, x: 100, y: 100 });
    expect(narrow.h).toBeGreaterThan(words.h);
  });

  test('what is not words, or lies turned, is not pulled that way', () => {
    show([box]);
    expect(screen.queryByRole('button', { name: 'Change width' })).toBeNull();
    cleanup();
    show([words], 1, 90);
    expect(screen.queryByRole('button', { name: 'Change width' })).toBeNull();
    cleanup();
    show([words, box]);
    expect(screen.queryByRole('button', { name: 'Change width' })).toBeNull();
  });
});
