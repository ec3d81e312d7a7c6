import {
  type Box,
  bandsOver,
  isMarkingPen,
  type Mark,
  type MarkId,
  markOnWords,
  type PageText,
  type Pen,
} from '@jotmark/core';
import { type RefObject, useState } from 'react';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import { reveal } from './reveal.ts';
import { moveCursor, rangeOf, type WordCursor } from './word-cursor.ts';

interface Where {
  readonly pages: readonly ShownPage[];
  readonly texts: readonly (PageText | null)[];
  readonly pageNow: number;
  readonly zoom: number;
  readonly scroller: RefObject<HTMLElement | null>;
}

/** The word cursor: goes over the words of a page without a pointer, and marks what it picked. */
export function useWordWalk({ pages, texts, pageNow, zoom, scroller }: Where) {
  const [cursor, setCursor] = useState<{ page: number; words: WordCursor } | null>(null);
  return {
    walking: cursor !== null,
    putAway: () => setCursor(null),
    /** The words it picked on a page, as boxes; null where it is not. */
    boxesOn(page: number): readonly Box[] | null {
      const text = cursor?.page === page ? texts[page] : null;
      return text ? bandsOver(text, rangeOf(cursor!.words)) : null;
    },
    walk(key: string, extend: boolean): void {
      const page = cursor?.page ?? pageNow;
      const text = texts[page];
      const words = text ? moveCursor(text, cursor?.words ?? null, key, extend) : null;
      if (!words) return void toast('This page has no words to walk: it is a picture.');
      setCursor({ page, words });
      reveal(scroller.current, { index: page, area: text!.words[words.at]!.box }, pages, zoom);
    },
    /** What the pen makes of the picked words; null when it makes nothing. */
    mark(pen: Pen): Mark | null {
      const text = cursor && texts[cursor.page];
      const page = cursor && pages[cursor.page];
      if (!text || !page || !isMarkingPen(pen)) {
        toast('Choose a pen that makes a mark first.');
        return null;
      }
      const { turn } = viewOf(page.frame, page.turn, zoom);
      const at = { ...page, turn, text, range: rangeOf(cursor.words) };
      setCursor(null);
      return markOnWords(pen, at, newId<MarkId>(), Date.now());
    },
  };
}
