import type { Desk } from '@jotmark/core';
import { type RefObject, useEffect, useLayoutEffect, useRef } from 'react';
import { call } from '../api/call.ts';

/** So long a page is read before it counts as the one being marked. */
const READ_MS = 700;

/** A copy left half marked opens at the very page, on any device; the server is told when another page is being read. */
export function useLeftAt(
  desk: Desk,
  scroller: RefObject<HTMLElement | null>,
  laidOut: boolean,
  page: number,
  /** Whether something may be told: the marking can be written, and what was done so far has arrived. */
  tell: boolean,
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
    if (!tell || !opened.current || told.current === page) return;
    const soon = setTimeout(async () => {
      try {
        const { kept } = await call('leaveAt', { params: { handInId }, body: { page } });
        if (kept) told.current = page;
      } catch {
        // Only a place in a heap: it is told again with the next page.
      }
    }, READ_MS);
    return () => clearTimeout(soon);
  }, [tell, page, handInId]);
}
