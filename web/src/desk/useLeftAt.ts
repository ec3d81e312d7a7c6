import type { Desk } from '@jotmark/core';
import { type RefObject, useEffect, useLayoutEffect, useRef } from 'react';
import { call } from '../api/call.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';

/** So long a page is read before it counts as the one being marked. */
const READ_MS = 700;

/** A copy left half marked opens at the very page, on any device; the server is told when another page is being read. */
export function useLeftAt(
  desk: Desk,
  keeper: SheetKeeper,
  scroller: RefObject<HTMLElement | null>,
  laidOut: boolean,
  page: number,
): void {
  const opened = useRef(false);
  const told = useRef(desk.leftAt);
  const handInId = desk.handIn.id;
  const from = desk.marking.slip.done.value ? 0 : desk.leftAt;
  useLayoutEffect(() => {
    if (!laidOut || opened.current) return;
    opened.current = true;
    if (from > 0)
      scroller.current?.querySelector(`[data-index="${from}"]`)?.scrollIntoView({ block: 'start' });
  }, [laidOut, from, scroller]);
  useEffect(() => {
    if (desk.handedBack || !opened.current || told.current === page) return;
    let soon: ReturnType<typeof setTimeout> | undefined;
    const tell = async () => {
      try {
        const { kept } = await call('leaveAt', { params: { handInId }, body: { page } });
        if (kept) told.current = page;
      } catch {
        // Only a place in a heap: it is told again with the next page.
      }
    };
    // Told when what was done so far has arrived: nothing is rendered for it.
    const look = () => {
      clearTimeout(soon);
      if (keeper.view.save === 'saved' && told.current !== page) soon = setTimeout(tell, READ_MS);
    };
    look();
    const off = keeper.subscribe(look);
    return () => {
      off();
      clearTimeout(soon);
    };
  }, [page, laidOut, handInId, keeper, desk.handedBack]);
}
