import { type Box, isMarginMark, type MarginMark, type Mark, type PageView } from '@jotmark/core';
import type { ReactNode } from 'react';
import { PageOverlay } from '../paper/PageOverlay.tsx';
import { PageSheet, viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import { MarginColumn, type MarginSide } from './MarginColumn.tsx';

interface Props {
  readonly pages: readonly ShownPage[];
  readonly zoom: number;
  /** The marks of each page. */
  readonly byPage: readonly (readonly Mark[])[];
  readonly picked: readonly Mark[];
  /** Words picked with the keyboard on a page, as boxes; none by default. */
  readonly wordsOn?: (page: number) => readonly Box[];
  /** Other places of words that are looked for, on a page. */
  readonly foundOn?: (page: number) => readonly Box[];
  readonly active: string | null;
  readonly side?: MarginSide;
  readonly margin?: 'wide' | 'narrow' | 'none';
  readonly folds?: ReadonlySet<string>;
  /** What else lies over a page. */
  over?(index: number, view: PageView): ReactNode;
  /** What can be done in the margin; without it the margin is for reading. */
  readonly writing?: {
    readonly editing: boolean;
    onWords(note: MarginMark, words: string): void;
    onRemove(note: MarginMark): void;
    onFold?(note: MarginMark): void;
  };
  onActivate(note: MarginMark | null, edit: boolean): void;
}

/** All pages of a document one below the other, each with its marks and its margin: on the desk and in the student's hands alike. */
export function MarkedPageStack(p: Props) {
  return (
    <div className="mx-auto flex w-max flex-col gap-5">
      {p.pages.map(({ document, page, frame, turn, heading }, i) => {
        const view = viewOf(frame, turn, p.zoom);
        const marks = p.byPage[i] ?? [];
        const notes = marks.filter(isMarginMark);
        const margin = p.margin !== 'none' && (
          <MarginColumn
            notes={notes}
            view={view}
            active={p.active}
            editing={p.writing?.editing ?? false}
            readOnly={!p.writing}
            side={p.side ?? 'right'}
            narrow={p.margin === 'narrow'}
            {...(p.folds ? { folds: p.folds } : {})}
            onFold={p.writing?.onFold}
            onActivate={p.onActivate}
            onWords={p.writing?.onWords ?? nothing}
            onRemove={p.writing?.onRemove ?? nothing}
          />
        );
        return (
          <div key={`${document}/${page}`} className="self-center">
            {heading && <PageHeading>{heading}</PageHeading>}
            <div className="flex shadow-md">
              {p.side === 'left' && margin}
              <PageSheet
                document={document}
                page={page}
                index={i}
                frame={frame}
                turn={turn}
                zoom={p.zoom}
                marks={marks}
                label={`Page ${i + 1} of ${p.pages.length}`}
              >
                <PageOverlay
                  notes={notes}
                  picked={p.picked.filter((m) => m.page === page && m.document === document)}
                  words={p.wordsOn?.(i) ?? []}
                  found={p.foundOn?.(i) ?? []}
                  view={view}
                />
                {p.over?.(i, view)}
              </PageSheet>
              {p.side !== 'left' && margin}
            </div>
          </div>
        );
      })}
    </div>
  );
}

/** The name of a document above its first page, where several lie in one stack. */
export function PageHeading({ children }: { children: ReactNode }) {
  return <h2 className="mb-1.5 max-w-[60ch] truncate text-sm font-semibold text-soft">{children}</h2>;
}

const nothing = () => {};
