import {
  type Carried,
  type Comparison,
  carryMarks,
  compareHandIns,
  type Desk,
  type MarkId,
  matchPages,
  type PageOf,
  type PageText,
  type Sheet,
  type WhatBecame,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { createContext, useMemo, useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { putChange } from '../outbox/changes.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { type ShownPage, usePageList, usePageTexts } from '../paper/page-list.ts';

const NONE: readonly never[] = [];

/** Pages with their words, where all are known; null: some are still on their way. */
function withWords(
  pages: readonly ShownPage[],
  texts: readonly (PageText | null)[],
  settled: boolean,
): PageOf[] | null {
  if (!settled || pages.length === 0) return null;
  const out = pages.flatMap((p, i): PageOf[] => {
    const text = texts[i];
    return text ? [{ document: p.document, page: p.page, text }] : [];
  });
  return out.length === pages.length ? out : null;
}

interface Here {
  readonly desk: Desk;
  readonly pages: readonly ShownPage[];
  readonly texts: readonly (PageText | null)[];
  readonly settled: boolean;
  readonly keeper: SheetKeeper;
  readonly sheet: Sheet;
}

/** The hand-in before the one on the desk: what was said of it, where that stands now, what changed. */
export function useInAgain({ desk, pages, texts, settled, keeper, sheet }: Here) {
  const again = desk.handIn.number > 1;
  const beside = useQuery({
    queryKey: keys.beside(desk.copyId),
    queryFn: () => call('beside', { params: { copyId: desk.copyId } }),
    enabled: again,
  });
  const earlier = beside.data?.earlier[0] ?? null;
  const old = usePageList(earlier?.documents ?? NONE);
  const oldTexts = usePageTexts(old.pages);
  const before = useMemo(
    () => withWords(old.pages, oldTexts, old.settled),
    [old.pages, oldTexts, old.settled],
  );
  const now = useMemo(() => withWords(pages, texts, settled), [pages, texts, settled]);
  const marks = earlier?.marks ?? NONE;
  const carried = useMemo(
    (): readonly Carried[] => (before && now ? carryMarks(marks, before, now) : NONE),
    [marks, before, now],
  );
  const compared = useMemo(
    (): Comparison | null => (before && now ? compareHandIns(before, now) : null),
    [before, now],
  );
  const pagesNow = useMemo(
    () =>
      before && now
        ? matchPages(
            before.map((p) => p.text),
            now.map((p) => p.text),
          )
        : NONE,
    [before, now],
  );
  const [active, setActive] = useState<MarkId | null>(null);
  const [showsChanges, setShowsChanges] = useState(false);
  const [overlay, setOverlay] = useState(0);
  const said = sheet.slip.became.value ?? {};
  /** What the teacher has said of a note; null: nothing yet. */
  const verdictOf = (id: MarkId): WhatBecame | null =>
    sheet.marks.get(id)?.value ? 'again' : (said[id] ?? null);
  const say = (id: MarkId, verdict: WhatBecame) => keeper.write('became', { ...said, [id]: verdict });
  return {
    again,
    earlier,
    oldPages: old.pages,
    /** Which page of the copy on the desk each of them has become. */
    pagesNow,
    /** There are no words or pages to compare: photos that could not be read, a film, a link. */
    incomparable: earlier !== null && old.settled && settled && (before === null || now === null),
    carried,
    compared,
    active,
    setActive,
    showsChanges,
    setShowsChanges,
    /** How much of the hand-in before lies over the page, in per cent. */
    overlay,
    setOverlay,
    verdictOf,
    say,
    /** Many at once, as one gesture. */
    sayAll: (ids: readonly MarkId[], verdict: WhatBecame) =>
      keeper.write('became', { ...said, ...Object.fromEntries(ids.map((id) => [id, verdict])) }),
    /** The same note once more, where its place is now: its conversation goes on. */
    sayAgain: ({ now }: Carried) => {
      if (now) keeper.do([putChange(keeper, now, sheet.marks.get(now.id)?.value ?? null)]);
    },
  };
}

export type InAgain = ReturnType<typeof useInAgain>;

/** Of the copy on the desk; null: it is its first hand-in. */
export const InAgainContext = createContext<InAgain | null>(null);
