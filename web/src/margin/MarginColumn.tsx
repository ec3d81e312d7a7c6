import {
  foldToFit,
  leadPoint,
  type MarginMark,
  type PageText,
  type PageView,
  packMargin,
  toScreen,
  viewSize,
} from '@jotmark/core';
import { memo, useLayoutEffect, useRef, useState } from 'react';
import { Divider } from '../frame/Divider.tsx';
import { Leads } from './Leads.tsx';
import {
  type BelowNote,
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
  /** The page's words: leads do not run through them. Null: they are not known. */
  readonly text: PageText | null;
  readonly active: string | null;
  /** Puts the cursor into the active note's words. */
  readonly editing: boolean;
  /** Null: for reading. */
  readonly writing: MarginWriting | null;
  readonly look: MarginLook;
  readonly below: BelowNote | null;
  /** It is one of several below each other. */
  readonly oneOfMany?: boolean;
  onActivate(note: MarginMark | null, edit: boolean): void;
}

/**
 * The margin of one page: notes level with what they are about, pushed apart so that none overlap, joined to their place by
 * a thin lead. When they do not all fit, the longest keep only their first words, and the one in hand unfolds over them.
 */
export const MarginColumn = memo(function MarginColumn(p: Props) {
  const { notes, view, active, writing, look, onActivate } = p;
  const { side, folds, onWidth } = look;
  const narrow = look.show === 'narrow';
  const [, pageHeight] = viewSize(view);
  const { heights, cardOf } = useHeights();
  const [near, setNear] = useState<string | null>(null);
  const width = narrow ? MARGIN_FOLDED : look.width;
  const { tops, shapes } = layOut({
    notes,
    active,
    folds,
    narrow,
    heights,
    wants: notes.map((n) => toScreen(view, leadPoint(n, side))[1]),
    length: pageHeight - 8,
  });
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only looks which note is near, to show its lead
    <div
      className={`relative z-[1] shrink-0 border-margin-rule bg-margin ${side === 'left' ? 'border-r' : 'border-l'}`}
      style={{ width, height: pageHeight }}
      data-own-pointer
      onPointerOver={(e) => setNear(noteOf(e.target))}
      onPointerLeave={() => setNear(null)}
      onFocus={(e) => setNear(noteOf(e.target))}
      onBlur={() => setNear(null)}
    >
      <Leads
        notes={notes}
        view={view}
        text={p.text}
        side={side}
        width={width}
        ends={notes.map((_, i) => tops[i]! + (shapes[i] === 'card' ? 16 : SIGN_HEIGHT / 2))}
        active={active}
        near={near}
      />
      {onWidth && !narrow && (
        <Divider
          label="Width of the margin"
          edge={side === 'left' ? 'right' : 'left'}
          value={look.width}
          least={LEAST_MARGIN}
          most={MOST_MARGIN}
          oneOfMany={p.oneOfMany ?? false}
          onValue={onWidth}
        />
      )}
      {notes.map((n, i) => (
        <div key={n.id} data-note={n.id} className="contents">
          <NoteCard
            ref={cardOf(n.id)}
            note={n}
            top={tops[i]!}
            bottom={pageHeight}
            shape={shapes[i]!}
            reaches={narrow ? side : null}
            active={n.id === active}
            editing={p.editing && n.id === active && writing !== null}
            writing={writing}
            below={p.below?.(n, () => onActivate(n, false)) ?? null}
            onActivate={onActivate}
          />
        </div>
      ))}
    </div>
  );
});

const noteOf = (target: EventTarget): string | null =>
  (target as HTMLElement).closest<HTMLElement>('[data-note]')?.dataset.note ?? null;

interface LayOut {
  readonly notes: readonly MarginMark[];
  readonly active: string | null;
  readonly folds: ReadonlySet<string>;
  readonly narrow: boolean;
  readonly heights: ReadonlyMap<string, number>;
  /** Where each note would like to stand, level with its place. */
  readonly wants: readonly number[];
  readonly length: number;
}

/** How each note is shown and where its top is. */
function layOut({ notes, active, folds, narrow, heights, wants, length }: LayOut) {
  const folded = narrow ? 'sign' : 'line';
  const high = notes.map((n) => (narrow || folds.has(n.id) ? SIGN_HEIGHT : (heights.get(n.id) ?? GUESS)));
  const open = notes.map((n) => n.id === active);
  const fold = foldToFit(high, open, SIGN_HEIGHT, length, GAP);
  const small = notes.map((n, i) => !open[i] && (narrow || fold.has(i) || folds.has(n.id)));
  const items = notes.map((n, i) =>
    small[i]
      ? { want: wants[i]! - SIGN_HEIGHT / 2, height: SIGN_HEIGHT }
      : { want: wants[i]! - 14, height: heights.get(n.id) ?? GUESS },
  );
  const full = narrow ? ({ fits: false } as const) : packMargin(items, length, GAP);
  if (full.fits)
    return { tops: full.tops, shapes: small.map((s) => (s ? folded : 'card') as 'line' | 'card') };
  // The one in hand lies over the others. Even signs may be too many for a very small page: then they stand level and overlap, but none is lost.
  const signs = packMargin(
    notes.map((_, i) => ({ want: wants[i]! - SIGN_HEIGHT / 2, height: SIGN_HEIGHT })),
    length,
    2,
  );
  return {
    tops: signs.fits ? signs.tops : wants,
    shapes: open.map((o) => (o ? 'over' : folded) as 'over' | 'line' | 'sign'),
  };
}

/** How high the cards are, measured as they change. A folded one is remembered as it was. */
function useHeights() {
  const [heights, setHeights] = useState<ReadonlyMap<string, number>>(new Map());
  const cards = useRef(new Map<string, HTMLElement>());
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
  const cardOf = (id: string) => (el: HTMLElement | null) => {
    if (el) cards.current.set(id, el);
    else cards.current.delete(id);
  };
  return { heights, cardOf };
}
