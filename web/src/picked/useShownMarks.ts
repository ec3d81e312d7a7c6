import {
  isWorded,
  type Mark,
  type MarkId,
  type Sheet,
  standingMarks,
  textHeight,
  type WordedMark,
} from '@jotmark/core';
import { useMemo, useRef } from 'react';
import type { Draft } from '../outbox/useDraft.ts';
import { formulasFor } from '../paper/looks.ts';
import { marksByPage } from '../paper/marks-by-page.ts';
import { measureHand } from '../paper/measure.ts';
import type { ShownPage } from '../paper/page-list.ts';

/** The mark with other words; words on the page are as high as they need. */
export const withWords = <T extends WordedMark>(mark: T, words: string): T =>
  mark.kind === 'text'
    ? { ...mark, words, h: textHeight({ ...mark, words }, measureHand, formulasFor(words)) }
    : { ...mark, words };

/** The marks of a sheet as they are shown: what is being typed or dragged in its place. */
export function useShownMarks(
  sheet: Sheet,
  draft: Draft<MarkId> | null,
  dragged: readonly Mark[] | null,
): readonly Mark[] {
  const standing = useMemo(() => standingMarks(sheet), [sheet]);
  return useMemo(() => {
    if (!draft && !dragged) return standing;
    const moved = new Map(dragged?.map((m) => [m.id, m]));
    return standing.map((m) => {
      const now = moved.get(m.id);
      if (now) return now;
      return draft && m.id === draft.about && isWorded(m) ? withWords(m, draft.words) : m;
    });
  }, [standing, draft, dragged]);
}

/** The same by page of the stack; a page on which nothing changed keeps its very list. Words that are being written are shown by their own field. */
export function usePaintedPages(
  shown: readonly Mark[],
  pages: readonly ShownPage[],
  written: Mark | null,
): readonly (readonly Mark[])[] {
  const last = useRef<readonly (readonly Mark[])[]>([]);
  return useMemo(() => {
    const painted = written ? shown.map((m) => (m === written ? { ...written, words: '' } : m)) : shown;
    last.current = marksByPage(painted, pages, last.current);
    return last.current;
  }, [shown, pages, written]);
}
