import { type Box, isEcho, isMarginMark, type MarginMark, type Mark, type PageText } from '@jotmark/core';
import { memo, type ReactNode, useMemo } from 'react';
import { samePropsAndLists, useSameList } from '../frame/useSameList.ts';
import { PageHeading } from '../paper/PageHeading.tsx';
import { PageOverlay } from '../paper/PageOverlay.tsx';
import { PageSheet, viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import { useTalkMarks } from '../voice/talk-stage.ts';
import { MarginColumn } from './MarginColumn.tsx';
import type { MarginLook } from './margin-look.ts';
import { hasMore, useAbove } from './useAbove.ts';

interface Props {
  readonly page: ShownPage;
  readonly zoom: number;
  readonly marks: readonly Mark[];
  readonly picked: readonly Mark[];
  readonly words: readonly Box[];
  readonly found: readonly Box[];
  readonly active: string | null;
  readonly editing: boolean;
  readonly look: MarginLook;
  readonly text: PageText | null;
  readonly over: ReactNode;
  onActivate(note: MarginMark | null, edit: boolean): void;
}

/** One page with its marks and its margin. Made anew only when something of this page is another: a stroke on the first page leaves the others alone. */
export const MarkedPage = memo(function MarkedPage(p: Props) {
  const { document, page, frame, turn, heading, index, of } = p.page;
  const view = useMemo(() => viewOf(frame, turn, p.zoom), [frame, turn, p.zoom]);
  // While a talk is played some are still to come.
  const marks = useTalkMarks(p.page, p.marks);
  const notes = useSameList(marks.filter(isMarginMark));
  const above = useAbove(notes, p.text, view.width);
  // A pattern note stands in the margin once, words above their line only when they are in hand.
  const beside = useSameList(
    notes.filter((n) => !isEcho(n) && (!above.has(n.id) || n.id === p.active || hasMore(n))),
  );
  const margin = p.look.show !== 'none' && (
    <MarginColumn
      notes={beside}
      view={view}
      text={p.text}
      below={p.look.below ?? null}
      active={p.active}
      editing={p.editing}
      writing={p.look.writing ?? null}
      look={p.look}
      oneOfMany={index > 0}
      onActivate={p.onActivate}
    />
  );
  return (
    // What opens from a narrow margin lies over the page below too.
    <div className={p.active ? 'relative z-10 self-center' : 'self-center'}>
      {heading && <PageHeading>{heading}</PageHeading>}
      <div className="flex shadow-md">
        {p.look.side === 'left' && margin}
        <PageSheet
          document={document}
          page={page}
          index={index}
          frame={frame}
          turn={turn}
          zoom={p.zoom}
          marks={marks}
          label={`Page ${index + 1} of ${of}`}
        >
          <PageOverlay
            notes={notes}
            above={above}
            picked={p.picked}
            words={p.words}
            found={p.found}
            view={view}
          />
          {p.over}
        </PageSheet>
        {p.look.side !== 'left' && margin}
      </div>
    </div>
  );
}, samePropsAndLists);
