import { type Mark, viewSize } from '@jotmark/core';
import { memo } from 'react';
import { PageSheet, viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';

/** Width of a small page, in CSS pixels. */
const WIDTH = 84;

/** All pages small, with what is on them: where one is, which are still empty, one move to any of them. */
export const PageStrip = memo(function PageStrip({
  pages,
  byPage,
  now,
  onGo,
}: {
  pages: readonly ShownPage[];
  byPage: readonly (readonly Mark[])[];
  now: number;
  onGo(index: number): void;
}) {
  return (
    <nav
      aria-label="Pages"
      data-scroller
      className="w-[116px] shrink-0 overflow-y-auto border-r border-line bg-tray p-2"
    >
      <ol className="space-y-2">
        {pages.map(({ document, page, frame, turn, heading }, i) => {
          const zoom = WIDTH / viewSize(viewOf(frame, turn, 1))[0];
          const marks = byPage[i]?.length ?? 0;
          return (
            <li key={`${document}/${page}`}>
              {heading && <p className="mb-1 truncate text-[11px] text-soft">{heading}</p>}
              <button
                type="button"
                aria-current={i === now ? 'page' : undefined}
                aria-label={`To page ${i + 1}${marks ? `, ${marks} ${marks === 1 ? 'mark' : 'marks'}` : ''}`}
                className={`block rounded border-2 p-0.5 ${i === now ? 'border-action' : 'border-transparent hover:border-line-strong'}`}
                onClick={() => onGo(i)}
              >
                <span aria-hidden="true" className="block">
                  <PageSheet
                    document={document}
                    page={page}
                    index={i}
                    frame={frame}
                    turn={turn}
                    zoom={zoom}
                    marks={byPage[i] ?? NONE}
                    label=""
                  />
                </span>
                <span className="flex justify-between text-[11px] text-soft" aria-hidden="true">
                  <span>{i + 1}</span>
                  <span>{marks || ''}</span>
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </nav>
  );
});

const NONE: readonly Mark[] = [];
