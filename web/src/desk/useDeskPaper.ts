import { type CopyId, type Desk, same } from '@jotmark/core';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { type RefObject, useMemo, useRef, useState } from 'react';
import { rememberRoom } from '../ahead/ahead.ts';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { toast } from '../frame/toast.ts';
import { reveal } from '../hand/reveal.ts';
import { usePageInView, useZoom } from '../hand/useZoom.ts';
import type { DeskLayout } from '../layout/useDeskLayout.ts';
import { MARGIN_FOLDED, type MarginLook } from '../margin/margin-look.ts';
import { usePageList, usePageTexts } from '../paper/page-list.ts';
import { useOnceRead } from '../paper/useOnceRead.ts';

const NO_FOLDS: ReadonlySet<string> = new Set();
/** In a box less wide the margin is only signs: the paper comes first. */
const WIDE_ENOUGH = 640;

const toggled = (set: ReadonlySet<string>, id: string): ReadonlySet<string> =>
  set.has(id) ? new Set([...set].filter((other) => other !== id)) : new Set([...set, id]);

/** What reading found beside pages is taken in, and nothing else: somebody is at work here. Where it found nothing, nothing changes. */
async function askOnceMore(client: QueryClient, copyId: CopyId): Promise<void> {
  const now = await call('desk', { params: { copyId } }).catch(() => null);
  if (!now) return;
  client.setQueryData<Desk>(keys.desk(copyId), (was) =>
    !was || (same(was.asked, now.asked) && same(was.named, now.named))
      ? was
      : { ...was, asked: now.asked, named: now.named },
  );
}

/** The paper on the desk: its pages and their words, how large and where they lie, with which margin, and the ways over it. */
export function useDeskPaper(desk: Desk, layout: DeskLayout, onMarginWidth: (to: number) => void) {
  const stack = usePageList(desk.documents);
  const client = useQueryClient();
  useOnceRead(desk.documents, stack.settled, () => void askOnceMore(client, desk.copyId));
  const { pages } = stack;
  const texts = usePageTexts(pages);
  const scroller: RefObject<HTMLDivElement | null> = useRef(null);
  // Pages of several documents are shown when all are there: a stack that grows while one reads would jump.
  const ready = stack.settled && pages.length > 0;
  const showIn = (width: number): MarginLook['show'] =>
    layout.only === 'paper' ? 'none' : layout.margin === 'wide' && width >= WIDE_ENOUGH ? 'wide' : 'narrow';
  const widths = { none: 0, narrow: MARGIN_FOLDED, wide: layout.sizes.margin };
  const zooming = useZoom(scroller, pages, ready, (width) => widths[showIn(width)]);
  const { zoom, room } = zooming;
  const show = showIn(room?.[0] ?? 0);
  if (room) rememberRoom(room, widths[show]);
  const pageNow = usePageInView(scroller, ready);
  const [folds, setFolds] = useState(NO_FOLDS);
  const { side } = layout;
  const width = layout.sizes.margin;
  const look = useMemo(
    (): MarginLook => ({ show, side, width, folds, onWidth: onMarginWidth }),
    [show, side, width, folds, onMarginWidth],
  );

  const toPage = (index: number) =>
    scroller.current
      ?.querySelector(`[data-index="${Math.min(pages.length - 1, Math.max(0, index))}"]`)
      ?.scrollIntoView({ block: 'start' });
  const nextDocument = () => {
    const now = pages[pageNow]?.document;
    const firsts = pages.flatMap((p, i) => (i === 0 || pages[i - 1]!.document !== p.document ? [i] : []));
    if (firsts.length < 2) return void toast('There is one document in this hand-in.');
    const at = firsts.findIndex((i) => pages[i]!.document === now);
    toPage(firsts[(at + 1) % firsts.length]!);
  };
  return {
    ...zooming,
    stack,
    pages,
    texts,
    scroller,
    ready,
    /** There is no page to wait for: none is there, or they are still being made. */
    without:
      !ready &&
      (stack.error !== null ||
        stack.settled ||
        stack.states.some((d) => d.shows === 'pages' && d.reading.state !== 'done')),
    pageNow,
    look,
    fold: (id: string) => setFolds((before) => toggled(before, id)),
    /** Brings a mark or a place into sight. */
    bring: (what: Parameters<typeof reveal>[1]) => reveal(scroller.current, what, pages, zoom),
    toPage,
    nextDocument,
  };
}

export type DeskPaper = ReturnType<typeof useDeskPaper>;
