import {
  leadPoint,
  leadWay,
  type MarginMark,
  type PageText,
  type PageView,
  toScreen,
  viewSize,
} from '@jotmark/core';
import { useMemo } from 'react';

interface Props {
  readonly notes: readonly MarginMark[];
  readonly view: PageView;
  readonly text: PageText | null;
  readonly side: 'left' | 'right';
  /** Of the margin, in CSS pixels. */
  readonly width: number;
  /** Where on its card each lead ends. */
  readonly ends: readonly number[];
  readonly active: string | null;
  /** Under the pointer or the keyboard. */
  readonly near: string | null;
}

/**
 * The thin lines that join notes to their places. They leave the page along the gaps between lines; where words would be in their way they are seen only
 * while their note is in hand, under the pointer or under the keyboard.
 */
export function Leads({ notes, view, text, side, width, ends, active, near }: Props) {
  const [pageWidth, pageHeight] = viewSize(view);
  const ways = useMemo(
    () =>
      notes.map((note) => {
        const place = leadPoint(note, side);
        // A page that is shown turned has its lines across: leads go straight, and only when they are wanted.
        if (view.turn !== 0) return { way: [toScreen(view, place)], free: text === null };
        const way = leadWay(place, side === 'left' ? 0 : view.width, text);
        return { way: (way ?? [place]).map((point) => toScreen(view, point)), free: way !== null };
      }),
    [notes, side, view, text],
  );
  const shift = side === 'left' ? width : 0;
  return (
    <svg
      className="pointer-events-none absolute top-0 overflow-visible"
      style={{ left: side === 'left' ? 0 : -pageWidth, width: pageWidth + width, height: pageHeight }}
      aria-hidden="true"
    >
      {notes.map((note, i) => {
        const { way, free } = ways[i]!;
        const wanted = note.id === active || note.id === near;
        if (!free && !wanted) return null;
        const points = way.map(([x, y]) => `${x + shift} ${y}`);
        const [x, y] = way.at(-1)!;
        const end = side === 'left' ? width - 14 : pageWidth + 14;
        const bend = Math.max(10, Math.abs(end - x - shift) * 0.45) * (side === 'left' ? -1 : 1);
        return (
          <path
            key={note.id}
            d={`M${points.join(' L')} C${x + shift + bend} ${y} ${end - bend} ${ends[i]} ${end} ${ends[i]}`}
            fill="none"
            stroke={`var(--color-${note.colour})`}
            strokeWidth={wanted ? 1.8 : 1}
            opacity={wanted ? 0.9 : 0.4}
          />
        );
      })}
    </svg>
  );
}
