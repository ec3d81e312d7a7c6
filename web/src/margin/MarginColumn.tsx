import { leadPoint, type NoteMark, type PageView, packMargin, toScreen, viewSize } from '@jotmark/core';
import { useLayoutEffect, useRef, useState } from 'react';
import { NoteCard } from './NoteCard.tsx';

export const MARGIN_WIDTH = 250;
const GAP = 6;
const SIGN_HEIGHT = 26;
const GUESS = 52;

interface Props {
  readonly notes: readonly NoteMark[];
  readonly view: PageView;
  readonly active: string | null;
  readonly readOnly: boolean;
  /** Puts the cursor into the active note's words. */
  readonly editing: boolean;
  onActivate(note: NoteMark | null, edit: boolean): void;
  onWords(note: NoteMark, words: string): void;
  onRemove(note: NoteMark): void;
}

/**
 * The margin of one page: notes level with what they are about, pushed apart so that none overlap, joined to their place by
 * a thin lead. When they do not all fit they fold into signs, and the one in hand unfolds over them.
 */
export function MarginColumn({
  notes,
  view,
  active,
  readOnly,
  editing,
  onActivate,
  onWords,
  onRemove,
}: Props) {
  const [pageWidth, pageHeight] = viewSize(view);
  const [heights, setHeights] = useState<ReadonlyMap<string, number>>(new Map());
  const cards = useRef(new Map<string, HTMLElement>());
  const leads = notes.map((n) => toScreen(view, leadPoint(n)));

  const full = packMargin(
    notes.map((n, i) => ({ want: leads[i]![1] - 14, height: heights.get(n.id) ?? GUESS })),
    pageHeight - 8,
    GAP,
  );
  const folded = !full.fits;
  const signs = folded
    ? packMargin(
        notes.map((_, i) => ({ want: leads[i]![1] - SIGN_HEIGHT / 2, height: SIGN_HEIGHT })),
        pageHeight - 8,
        2,
      )
    : null;
  const packed = folded ? signs! : full;
  // Even the signs may be too many for a very small page: then they stand level and overlap, but none is lost.
  const tops = packed.fits ? packed.tops : leads.map((l) => l[1]);

  useLayoutEffect(() => {
    const measure = () => {
      const next = new Map<string, number>();
      for (const [id, el] of cards.current)
        next.set(id, el.dataset.folded ? (heights.get(id) ?? GUESS) : el.offsetHeight);
      if (next.size !== heights.size || [...next].some(([id, h]) => heights.get(id) !== h)) setHeights(next);
    };
    measure();
    const observer = new ResizeObserver(measure);
    for (const el of cards.current.values()) observer.observe(el);
    return () => observer.disconnect();
  });

  return (
    <div
      className="relative shrink-0 border-l border-margin-rule bg-margin"
      style={{ width: MARGIN_WIDTH, height: pageHeight }}
      data-own-pointer
    >
      <svg
        className="pointer-events-none absolute top-0 overflow-visible"
        style={{ left: -pageWidth, width: pageWidth + MARGIN_WIDTH, height: pageHeight }}
        aria-hidden="true"
      >
        {notes.map((n, i) => {
          const [x, y] = leads[i]!;
          const to = tops[i]! + (folded ? SIGN_HEIGHT / 2 : 16);
          const end = pageWidth + 14;
          const bend = Math.max(24, (end - x) * 0.45);
          return (
            <path
              key={n.id}
              d={`M${x} ${y} C${x + bend} ${y} ${end - bend} ${to} ${end} ${to}`}
              fill="none"
              stroke={`var(--color-${n.colour})`}
              strokeWidth={n.id === active ? 1.8 : 1}
              opacity={n.id === active ? 0.9 : 0.4}
            />
          );
        })}
      </svg>
      {notes.map((n, i) => (
        <NoteCard
          key={n.id}
          ref={(el) => {
            if (el) cards.current.set(n.id, el);
            else cards.current.delete(n.id);
          }}
          note={n}
          top={tops[i]!}
          folded={folded && n.id !== active}
          over={folded && n.id === active}
          bottom={pageHeight}
          active={n.id === active}
          editing={editing && n.id === active && !readOnly}
          readOnly={readOnly}
          onActivate={(edit) => onActivate(n, edit)}
          onLeave={() => onActivate(null, false)}
          onWords={(words) => onWords(n, words)}
          onRemove={() => onRemove(n)}
        />
      ))}
    </div>
  );
}
