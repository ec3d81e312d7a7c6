import { type Focus, isMarginMark, type Mark, withEchoes, withSignOf } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { usePicked } from '../picked/usePicked.ts';
import { usePaintedPages, useShownMarks } from '../picked/useShownMarks.ts';
import { focusesQuery } from '../slip/Focuses.tsx';
import type { DeskPaper } from './useDeskPaper.ts';
import { useSmallest } from './useSmallest.ts';
import type { useStanding } from './useStanding.ts';
import type { useTyping } from './useTyping.ts';

const NO_FOCUSES: readonly Focus[] = [];

interface Options {
  readonly keeper: SheetKeeper;
  readonly stands: ReturnType<typeof useStanding>;
  readonly words: ReturnType<typeof useTyping>;
  readonly paper: DeskPaper;
}

/** The marks as they are shown: typed and dragged ones where they are now; and what of them is picked. */
export function useDeskMarks({ keeper, stands, words, paper }: Options) {
  const [dragged, setDragged] = useState<readonly Mark[] | null>(null);
  const shown = useShownMarks(stands.sheet, words.note.draft, dragged);
  const left = useSmallest(keeper, paper);
  const picking = usePicked({ keeper, readOnly: stands.fixed, shown, flush: words.note.flush, left });
  const focuses = useQuery({ ...focusesQuery, enabled: !stands.fixed }).data ?? NO_FOCUSES;
  const hold = { ...picking, make: (mark: Mark) => picking.make(withSignOf(mark, focuses)) };
  const everywhere = useMemo(() => withEchoes(shown), [shown]);
  const picked = hold.marks;
  const only = picked.length === 1 ? picked[0]! : null;
  const beingWritten = hold.editing && only?.kind === 'text' ? only : null;
  return {
    shown,
    hold,
    /** The teacher's own. */
    focuses,
    picked,
    /** The picked note of the margin, if it is one. */
    inMargin: only && isMarginMark(only) ? only.id : null,
    beingWritten,
    byPage: usePaintedPages(everywhere, paper.pages, beingWritten),
    drag: (marks: readonly Mark[] | null) => !stands.fixed && setDragged(marks),
  };
}

export type DeskMarks = ReturnType<typeof useDeskMarks>;
