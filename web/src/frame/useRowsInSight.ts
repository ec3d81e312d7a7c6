import { useWindowVirtualizer, type VirtualItem } from '@tanstack/react-virtual';
import { type RefObject, useLayoutEffect, useState } from 'react';

/** Up to so many rows all are rendered: one finds them with the browser's own search, and hears them all. */
export const ALL_UP_TO = 120;
const OVERSCAN = 20;

export interface InSight {
  readonly from: number;
  /** Not counted in. */
  readonly to: number;
  /** Room for the rows before and after, in CSS pixels. */
  readonly before: number;
  readonly after: number;
}

/** Of many rows of one height those near the window; the rest is room. `list` is what holds them. */
export function useRowsInSight(count: number, height: number, list: RefObject<HTMLElement | null>): InSight {
  const many = count > ALL_UP_TO;
  const [top, setTop] = useState(0);
  useLayoutEffect(() => {
    if (many && list.current) setTop(list.current.getBoundingClientRect().top + window.scrollY);
  }, [many, list]);
  const virtual = useWindowVirtualizer({
    count: many ? count : 0,
    estimateSize: () => height,
    overscan: OVERSCAN,
    scrollMargin: top,
  });
  const items: readonly VirtualItem[] = virtual.getVirtualItems();
  const [first, last] = [items[0], items.at(-1)];
  if (!many || !first || !last)
    return { from: 0, to: many ? 0 : count, before: 0, after: many ? count * height : 0 };
  return {
    from: first.index,
    to: last.index + 1,
    before: first.start - top,
    after: virtual.getTotalSize() - (last.end - top),
  };
}
