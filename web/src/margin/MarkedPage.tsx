import { type Box, isMarginMark, type MarginMark, type Mark } from '@jotmark/core';
import { memo, type ReactNode, useMemo } from 'react';
import { samePropsAndLists, useSameList } from '../frame/useSameList.ts';
import { PageOverlay } from '../paper/PageOverlay.tsx';
import { PageSheet, viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import { MarginColumn, type MarginSide } from './MarginColumn.tsx';

/** What can be done in the margin. */
export interface MarginWriting {
  onWords(note: MarginMark, words: string): void;
  onRemove(note: MarginMark): void;
  onFold?(note: MarginMark): void;
}

interface Props {
  readonly page: ShownPage;
  /** Its place in the stack, and how many pages there are. */
  readonly index: number;
  readonly of: number;
  readonly zoom: number;
  readonly marks: readonly Mark[];
  readonly picked: readonly Mark[];
  readonly words: readonly Box[];
  readonly found: readonly Box[];
  readonly active: string | null;
  readonly side: MarginSide;
  readonly margin: 'wide' | 'narrow' | 'none';
  /** Of the wide margin, in CSS pixels. */
  readonly marginWidth: number;
  readonly onMarginWidth: ((to: number) => void) | undefined;
  readonly folds: ReadonlySet<string>;
  readonly editing: boolean;
  readonly writing: MarginWriting | null;
  readonly over: ReactNode;
  onActivate(note: MarginMark | null, edit: boolean): void;
}

/** One page with its marks and its margin. Made anew only when something of this page is another: a stroke on the first page leaves the others alone. */
export const MarkedPage = memo(function MarkedPage(p: Props) {
  const { document, page, frame, turn, heading } = p.page;
  const view = useMemo(() => viewOf(frame, turn, p.zoom), [frame, turn, p.zoom]);
  const notes = useSameList(p.marks.filter(isMarginMark));
  const margin = p.margin !== 'none' && (
    <MarginColumn
      notes={notes}
      view={view}
      active={p.active}
      editing={p.editing}
      readOnly={!p.writing}
      side={p.side}
      narrow={p.margin === 'narrow'}
      wide={p.marginWidth}
      oneOfMany={p.index > 0}
      onWide={p.onMarginWidth}
      folds={p.folds}
      onFold={p.writing?.onFold}
      onActivate={p.onActivate}
      onWords={p.writing?.onWords ?? nothing}
      onRemove={p.writing?.onRemove ?? nothing}
    />
  );
  return (
    <div className="self-center">
      {heading && <PageHeading>{heading}</PageHeading>}
      <div className="flex shadow-md">
        {p.side === 'left' && margin}
        <PageSheet
          document={document}
          page={page}
          index={p.index}
          frame={frame}
          turn={turn}
          zoom={p.zoom}
          marks={p.marks}
          label={`Page ${p.index + 1} of ${p.of}`}
        >
          <PageOverlay notes={notes} picked={p.picked} words={p.words} found={p.found} view={view} />
          {p.over}
        </PageSheet>
        {p.side !== 'left' && margin}
      </div>
    </div>
  );
}, samePropsAndLists);

/** The name of a document above its first page, where several lie in one stack. */
export function PageHeading({ children }: { children: ReactNode }) {
  return <h2 className="mb-1.5 max-w-[60ch] truncate text-sm font-semibold text-soft">{children}</h2>;
}

const nothing = () => {};
