import { leadPoint, type MarginMark, type PageView, packMargin, toScreen, viewSize } from '@jotmark/core';
import { memo, useLayoutEffect, useRef, useState } from 'react';
import { Divider } from '../frame/Divider.tsx';
import {
  LEAST_MARGIN,
  MARGIN_FOLDED,
  type MarginLook,
  type MarginWriting,
  MOST_MARGIN,
} from './margin-look.ts';
import { NoteCard } from './NoteCard.tsx';

const GAP = 6;
const SIGN_HEIGHT = 26;
const GUESS = 52;

interface Props {
  readonly notes: readonly MarginMark[];
  readonly view: PageView;
  readonly active: string | null;
  /** Puts the cursor into the active note's words. */
  readonly editing: boolean;
  /** Null: for reading. */
  readonly writing: MarginWriting | null;
  readonly look: MarginLook;
  /** It is one of several below each other. */
  readonly oneOfMany?: boolean;
  onActivate(note: MarginMark | null, edit: boolean): void;
}

/**
 * The margin of one page: notes level with what they are about, pushed apart so that none overlap, joined to their place by
 * a thin lead. When they do not all fit they fold into signs, and the one in hand unfolds over them.
 */
export const MarginColumn = memo(function MarginColumn({
  notes,
  view,
  active,
  editing,
  writing,
  look,
  oneOfMany = false,
  onActivate,
}: Props) {
  const { side, folds, onWidth } = look;
  const narrow = look.show === 'narrow';
  const [pageWidth, pageHeight] = viewSize(view);
  const [heights, setHeights] = useState<ReadonlyMap<string, number>>(new Map());
  const cards = useRef(new Map<string, HTMLElement>());
  const leads = notes.map((n) => toScreen(view, leadPoint(n, side)));
  const width = narrow ? MARGIN_FOLDED : look.width;
  const isSign = (n: MarginMark) => folds.has(n.id) && n.id !== active;

  const full = packMargin(
    notes.map((n, i) =>
      isSign(n)
        ? { want: leads[i]![1] - SIGN_HEIGHT / 2, height: SIGN_HEIGHT }
        : { want: leads[i]![1] - 14, height: heights.get(n.id) ?? GUESS },
    ),
    pageHeight - 8,
    GAP,
  );
  const folded = narrow || !full.fits;
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
      className={`relative z-[1] shrink-0 border-margin-rule bg-margin ${side === 'left' ? 'border-r' : 'border-l'}`}
      style={{ width, height: pageHeight }}
      data-own-pointer
    >
      <svg
        className="pointer-events-none absolute top-0 overflow-visible"
        style={{ left: side === 'left' ? 0 : -pageWidth, width: pageWidth + width, height: pageHeight }}
        aria-hidden="true"
      >
        {notes.map((n, i) => {
          const x = leads[i]![0] + (side === 'left' ? width : 0);
          const y = leads[i]![1];
          const to = tops[i]! + (folded || isSign(n) ? SIGN_HEIGHT / 2 : 16);
          const end = side === 'left' ? width - 14 : pageWidth + 14;
          const bend = Math.max(24, Math.abs(end - x) * 0.45) * (side === 'left' ? -1 : 1);
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
      {onWidth && !narrow && (
        <Divider
          label="Width of the margin"
          edge={side === 'left' ? 'right' : 'left'}
          value={look.width}
          least={LEAST_MARGIN}
          most={MOST_MARGIN}
          oneOfMany={oneOfMany}
          onValue={onWidth}
        />
      )}
      {notes.map((n, i) => (
        <NoteCard
          key={n.id}
          ref={(el) => {
            if (el) cards.current.set(n.id, el);
            else cards.current.delete(n.id);
          }}
          note={n}
          top={tops[i]!}
          bottom={pageHeight}
          shape={(folded && n.id !== active) || isSign(n) ? 'sign' : folded ? 'over' : 'card'}
          reaches={narrow ? side : null}
          active={n.id === active}
          editing={editing && n.id === active && writing !== null}
          readOnly={!writing}
          does={{
            onActivate: (edit) => onActivate(n, edit),
            onLeave: () => onActivate(null, false),
            onWords: (words) => writing?.onWords(n, words),
            onRemove: () => writing?.onRemove(n),
            onFold: writing?.onFold && (() => writing.onFold!(n)),
            Ghosts: writing?.Ghosts,
          }}
        />
      ))}
    </div>
  );
});
