import {
  type Desk,
  type Focus,
  type HandInId,
  isMarginMark,
  type Mark,
  withEchoes,
  withSignOf,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { indexOfMark } from '../paper/marks-by-page.ts';
import { usePicked } from '../picked/usePicked.ts';
import { usePaintedPages, useShownMarks } from '../picked/useShownMarks.ts';
import { focusesQuery } from '../slip/Focuses.tsx';
import { useRecorderStanding } from '../voice/useRecorder.ts';
import { useTalkPlayed } from '../voice/useTalkPlayed.ts';
import type { DeskPaper } from './useDeskPaper.ts';
import { usePlacedPoints } from './usePlacedPoints.ts';
import { useSmallest } from './useSmallest.ts';
import type { useStanding } from './useStanding.ts';
import type { useTyping } from './useTyping.ts';

const NO_FOCUSES: readonly Focus[] = [];

interface Options {
  readonly desk: Desk;
  readonly keeper: SheetKeeper;
  readonly stands: ReturnType<typeof useStanding>;
  readonly words: ReturnType<typeof useTyping>;
  readonly paper: DeskPaper;
}

/** The marks as they are shown: typed and dragged ones where they are now; and what of them is picked. */
export function useDeskMarks({ desk, keeper, stands, words, paper }: Options) {
  const writes = useRef<() => boolean>(() => false);
  const [dragged, setDragged] = useState<readonly Mark[] | null>(null);
  const standing = useShownMarks(stands.sheet, words.note.draft, dragged);
  const recording = useNoteBeingSpoken(desk.handIn.id);
  const shown = useMemo(
    () =>
      recording?.isNew && !standing.some((m) => m.id === recording.note.id)
        ? [...standing, recording.note]
        : standing,
    [standing, recording],
  );
  const talk = useTalkPlayed({
    marks: shown,
    follow: (place) => (place.mark ? paper.bring(place.mark) : paper.toPage(indexOfMark(paper.pages, place))),
  });
  const left = useSmallest(keeper, paper);
  const picking = usePicked({ keeper, readOnly: stands.fixed, shown, flush: words.note.flush, left });
  const focuses = useQuery({ ...focusesQuery, enabled: !stands.fixed }).data ?? NO_FOCUSES;
  const placed = usePlacedPoints(desk, paper);
  /** With the sign of its focus, and points with the question they belong to where that must be said. */
  const signed = (mark: Mark) => placed(withSignOf(mark, focuses));
  const hold = { ...picking, make: (mark: Mark) => picking.make(signed(mark)) };
  const everywhere = useMemo(() => withEchoes(shown), [shown]);
  const picked = hold.marks;
  const only = picked.length === 1 ? picked[0]! : null;
  const beingWritten = hold.editing && only?.kind === 'text' ? only : null;
  return {
    shown,
    hold,
    /** A mark with the sign of its focus. */
    signed,
    /** The teacher's own. */
    focuses,
    picked,
    /** The picked note of the margin, if it is one. */
    inMargin: only && isMarginMark(only) ? only.id : null,
    beingWritten,
    /** The note that is being spoken. */
    spoken: recording?.note.id ?? null,
    talk,
    /** Whether the pen is down; who holds it says so. */
    writes,
    byPage: usePaintedPages(everywhere, paper.pages, beingWritten),
    drag: (marks: readonly Mark[] | null) => !stands.fixed && setDragged(marks),
  };
}

/** The note of this hand-in to which somebody is speaking. */
function useNoteBeingSpoken(handInId: HandInId) {
  const { take } = useRecorderStanding();
  return take?.handInId === handInId && take.place.of === 'note' ? take.place : null;
}

export type DeskMarks = ReturnType<typeof useDeskMarks>;
