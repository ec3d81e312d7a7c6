import { LINED } from '@jotmark/core';
import type { CSSProperties, ReactNode } from 'react';

/** Where a page ends and the next begins, on the screen. */
export interface PageEdge {
  readonly page: number;
  /** In CSS pixels from the top of the lines. */
  readonly y: number;
}

interface Props {
  readonly zoom: number;
  /** On a telephone the lines are as wide as the screen, and its letters large enough to read. */
  readonly narrow: boolean;
  readonly edges: readonly PageEdge[];
  readonly children: ReactNode;
}

/** Letters on a telephone, over those of a page. */
const NARROW = 1.4;

/** Lined paper that is as long as what is written on it. Set by the same numbers as the pages it becomes. */
export function LinedPaper({ zoom, narrow, edges, children }: Props) {
  const z = narrow ? NARROW : zoom;
  return (
    <div
      data-own-pointer
      className={`lined relative bg-paper shadow-md ${narrow ? 'lined-narrow' : ''}`}
      style={{ '--z': z, ...(!narrow && { width: LINED.width * z }) } as CSSProperties}
    >
      {children}
      {!narrow && (
        <div
          aria-hidden="true"
          className="pointer-events-none absolute inset-x-0"
          style={{ top: LINED.top * z }}
        >
          {edges.map(({ page, y }) => (
            <div
              key={page}
              className="absolute inset-x-0 border-t-2 border-dashed border-line-strong"
              style={{ top: y }}
            >
              <span className="absolute -top-3 right-2 bg-paper px-1 text-xs text-soft tabular">
                page {page}
              </span>
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
