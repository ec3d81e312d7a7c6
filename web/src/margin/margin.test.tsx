import type { DocumentId, MarkId, NoteMark } from '@jotmark/core';
import { makeId } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { MarginColumn } from './MarginColumn.tsx';
import { PLAIN_MARGIN, SIGNS_ONLY } from './margin-look.ts';

vi.mock('../frame/session.tsx', () => ({ useHere: () => ({ session: { person: { role: 'teacher' } } }) }));

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
  const writing = { onWords: vi.fn(), onRemove: vi.fn(), onRemake: vi.fn() };
  const onActivate = vi.fn();
  const result = render(
    <MarginColumn
      notes={notes}
      view={view}
      text={null}
      below={null}
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
    expect(leads.map((p) => p.getAttribute('d')!.split(' C')[0])).toEqual([
      'M100 200 L600 200',
      'M100 202 L600 202',
    ]);
  });

  test('when they do not all fit the longest keep their first words in a line, and the one in hand stays whole', () => {
    const many = Array.from({ length: 9 }, (_, i) => note(i + 1, 30 + i * 40));
    const { unmount } = show(many);
    const lines = () => screen.getAllByRole('button', { name: /Note, wording: note \d/ });
    expect(lines().length).toBeGreaterThan(0);
    expect(lines()[0]!.textContent).toMatch(/^note \d$/);
    expect(lines().length + screen.queryAllByRole('article').length).toBe(9);
    unmount();
    const last = many.at(-1)!;
    show(many, { active: last.id });
    expect(screen.getAllByRole('article').some((a) => a.textContent?.includes('note 9'))).toBe(true);
  });

  test('a narrow margin shows bare signs that still say their words to who hears the page', () => {
    show([note(1, 100), note(2, 200)], { look: SIGNS_ONLY });
    const signs = screen.getAllByRole('button', { name: /Note, wording: note \d/ });
    expect(signs.map((s) => s.textContent)).toEqual(['', '']);
  });

  test('a pattern note says at how many places it stands, and what it earns', () => {
    const at = { document: id<DocumentId>(99), page: 0, place: { on: 'spot' as const, x: 1, y: 2 } };
    show([{ ...note(1, 100), also: [at, { ...at, page: 1 }], points: -50 }]);
    expect(screen.getByRole('article').textContent).toContain('−½3 ×');
  });

  test('words have their form: bold, lists, links that lead away', () => {
    show([note(1, 100, 'See **this** [map](https://maps.example/x)\n- one')]);
    const card = screen.getByRole('article');
    expect(card.querySelector('strong')?.textContent).toBe('this');
    expect(card.querySelector('li')?.textContent).toBe('one');
    expect(screen.getByRole('link', { name: 'map' })).toHaveProperty('rel', 'noopener noreferrer nofollow');
  });

  test('a click on a note asks to write in it; on a sign only to unfold it', () => {
    const one = note(1, 100);
    const { onActivate, unmount } = show([one]);
    fireEvent.click(screen.getByRole('button', { name: 'note 1' }));
    expect(onActivate).toHaveBeenCalledWith(one, true);
    unmount();
    const folded = show(Array.from({ length: 9 }, (_, i) => note(i + 1, 100)));
    fireEvent.click(screen.getByRole('button', { name: 'Note, wording: note 9' }));
    expect(folded.onActivate).toHaveBeenCalledWith(expect.objectContaining({ words: 'note 9' }), false);
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
    fireEvent.click(screen.getByRole('button', { name: 'Delete' }));
    expect(onRemove).toHaveBeenCalledWith(one);
    unmount();
    show([one], { active: one.id, editing: true, writing: null });
    expect(screen.queryByLabelText('Words of the note')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Delete' })).toBeNull();
  });
});
