import type { DocumentId, MarkId, NoteMark } from '@jotmark/core';
import { makeId } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { MarginColumn } from './MarginColumn.tsx';
import { PLAIN_MARGIN } from './margin-look.ts';

/** jsdom lays nothing out: every card is as high as this. */
let cardHeight = 60;
beforeAll(() => {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      disconnect() {}
    },
  );
  Object.defineProperty(HTMLElement.prototype, 'offsetHeight', { configurable: true, get: () => cardHeight });
  Element.prototype.scrollIntoView = () => {};
});
beforeEach(() => {
  cardHeight = 60;
});
afterEach(cleanup);

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const note = (n: number, y: number, words = `note ${n}`): NoteMark => ({
  v: 2,
  id: id<MarkId>(n),
  document: id<DocumentId>(99),
  page: 0,
  colour: 'lake',
  focus: 'wording',
  madeAt: n,
  kind: 'note',
  place: { on: 'spot', x: 100, y },
  words,
});
const view = { width: 600, height: 400, turn: 0 as const, zoom: 1 };

function show(notes: readonly NoteMark[], over: Partial<Parameters<typeof MarginColumn>[0]> = {}) {
  const writing = { onWords: vi.fn(), onRemove: vi.fn() };
  const onActivate = vi.fn();
  const result = render(
    <MarginColumn
      notes={notes}
      view={view}
      active={null}
      editing={false}
      writing={writing}
      look={PLAIN_MARGIN}
      onActivate={onActivate}
      {...over}
    />,
  );
  return { onActivate, ...writing, ...result };
}

const tops = () => screen.getAllByRole('article').map((a) => Number.parseFloat(a.style.top));

describe('the margin', () => {
  test('notes stand level with their places, in whatever order they were made', () => {
    show([note(1, 300), note(2, 50)]);
    expect(tops()).toEqual([286, 36]);
  });

  test('what was answered to a note elsewhere stands below its words, with who said it', () => {
    const replies = [
      { by: 'Ana', said: 'The north one?', at: 1 },
      { by: '', said: 'Yes.', at: 2 },
    ];
    show([{ ...note(1, 300), replies }]);
    expect(screen.getByRole('article').textContent).toBe('note 1Ana: The north one?answered: Yes.');
  });

  test('notes about the same place are pushed apart and do not overlap', () => {
    show([note(1, 200), note(2, 202), note(3, 204)]);
    const [a, b, c] = tops() as [number, number, number];
    expect(b - a).toBeGreaterThanOrEqual(66 - 0.01);
    expect(c - b).toBeGreaterThanOrEqual(66 - 0.01);
  });

  test('each is joined to its place by a lead', () => {
    const { container } = show([note(1, 200), note(2, 202)]);
    const leads = [...container.querySelectorAll('svg path')].filter((p) =>
      p.getAttribute('d')!.includes('C'),
    );
    expect(leads.map((p) => p.getAttribute('d')!.split(' C')[0])).toEqual(['M100 200', 'M100 202']);
  });

  test('when they do not all fit they fold into signs that still say their words, and the one in hand unfolds', () => {
    const many = Array.from({ length: 9 }, (_, i) => note(i + 1, 30 + i * 40));
    const { unmount } = show(many);
    expect(screen.queryAllByRole('article')).toHaveLength(0);
    expect(screen.getAllByRole('button', { name: /Note, wording: note \d/ })).toHaveLength(9);
    unmount();
    show(many, { active: many[4]!.id });
    expect(screen.getByRole('article').textContent).toContain('note 5');
    expect(screen.getAllByRole('button', { name: /Note, wording: note \d/ })).toHaveLength(8);
  });

  test('a click on a note asks to write in it; on a sign only to unfold it', () => {
    const one = note(1, 100);
    const { onActivate, unmount } = show([one]);
    fireEvent.click(screen.getByRole('button', { name: 'note 1' }));
    expect(onActivate).toHaveBeenCalledWith(one, true);
    unmount();
    const folded = show(Array.from({ length: 9 }, (_, i) => note(i + 1, 100)));
    fireEvent.click(screen.getByRole('button', { name: /note 3/ }));
    expect(folded.onActivate).toHaveBeenCalledWith(expect.objectContaining({ words: 'note 3' }), false);
  });

  test('words are passed on with every key, and Escape or Ctrl+Enter leaves', () => {
    const one = note(1, 100, '');
    const { onWords, onActivate } = show([one], { active: one.id, editing: true });
    const area = screen.getByLabelText('Words of the note');
    expect(document.activeElement).toBe(area);
    fireEvent.change(area, { target: { value: 'Which side?' } });
    expect(onWords).toHaveBeenCalledWith(one, 'Which side?');
    fireEvent.keyDown(area, { key: 'Escape' });
    expect(onActivate).toHaveBeenCalledWith(null, false);
  });

  test('the active note can be taken away; a read-only one cannot be written in', () => {
    const one = note(1, 100);
    const { onRemove, unmount } = show([one], { active: one.id });
    fireEvent.click(screen.getByRole('button', { name: 'Take away' }));
    expect(onRemove).toHaveBeenCalledWith(one);
    unmount();
    show([one], { active: one.id, editing: true, writing: null });
    expect(screen.queryByLabelText('Words of the note')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Take away' })).toBeNull();
  });
});
