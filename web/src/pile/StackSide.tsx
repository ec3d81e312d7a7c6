import { type PileRow, Place } from '@jotmark/core';
import type { ReactNode } from 'react';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';

/** From the top: what is on the desk and waits, what is marked, what went back, what is still with students. */
const LAYERS: readonly (readonly Place[])[] = [
  ['being-marked', 'in', 'in-again'],
  ['marked'],
  ['handed-back'],
  ['with-student'],
];

/** The pile seen from the side, each line one copy, with the counts of each place below. */
export function StackSide({ rows, children }: { rows: readonly PileRow[]; children: ReactNode }) {
  const lineHeight = Math.max(2.4, Math.min(9, 300 / Math.max(1, rows.length)));
  let y = 4;
  const layers = LAYERS.map((places) =>
    rows
      .filter((r) => places.includes(r.place))
      .sort((a, b) => places.indexOf(a.place) - places.indexOf(b.place)),
  );
  const sheets = layers.flatMap((layer) => {
    const drawn = layer.map((row, i) => ({ row, y: y + i * lineHeight, shift: (i * 5) % 7 }));
    y += layer.length * lineHeight + (layer.length ? 8 : 0);
    return drawn;
  });
  return (
    <aside className="w-64 shrink-0 p-2 max-sm:w-full" aria-label="The pile from the side">
      {children}
      <svg viewBox={`0 0 240 ${y}`} className="my-5 w-full max-sm:hidden" aria-hidden="true">
        {sheets.map(({ row, y: top, shift }) => {
          const done = row.place === 'marked' || row.place === 'handed-back';
          return (
            <rect
              key={row.copyId}
              x={4 + shift}
              y={top}
              width={224}
              height={lineHeight - 1.6}
              rx={1}
              fill={
                done
                  ? 'var(--color-action)'
                  : row.place === 'being-marked'
                    ? 'var(--color-line-strong)'
                    : row.place === 'with-student'
                      ? 'none'
                      : 'var(--color-paper)'
              }
              opacity={row.place === 'handed-back' ? 0.45 : 1}
              stroke={done ? 'none' : 'var(--color-line-strong)'}
              strokeDasharray={row.place === 'with-student' ? '3 2' : undefined}
            />
          );
        })}
      </svg>
      <dl className="space-y-1 max-sm:mt-2 max-sm:flex max-sm:flex-wrap max-sm:gap-x-5 max-sm:space-y-0">
        {Place.options
          .map((place) => ({ place, n: rows.filter((r) => r.place === place).length }))
          .filter((c) => c.n > 0)
          .map(({ place, n }) => (
            <div key={place} className="flex items-center gap-2">
              <PlaceGlyph place={place} />
              <dt>{PLACE_WORDS[place]}</dt>
              <dd className="ml-auto font-bold tabular">{n}</dd>
            </div>
          ))}
      </dl>
    </aside>
  );
}
