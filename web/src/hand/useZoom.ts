import type { PageFrame, QuarterTurn } from '@jotmark/core';
import { type RefObject, useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { MARGIN_WIDTH } from '../margin/margin-look.ts';
import { clampZoom, fitZoom, type Zoom } from './zoom.ts';

/** Room that the paper never gets: its distance from the edges. */
const EDGES = 40;

/** What the scroller's box leaves for the paper beside its margin. */
export function roomFor(
  [width, height]: readonly [number, number],
  margin = MARGIN_WIDTH,
): [width: number, height: number] {
  return [width - margin - EDGES, height - EDGES];
}

interface Anchor {
  readonly page: string;
  /** Where on the page, 0…1, and where on the screen it must stay. */
  readonly fx: number;
  readonly fy: number;
  readonly x: number;
  readonly y: number;
}

/** The zoom of a scroller with pages in it: what is under the pointer stays under it. */
export function useZoom(
  scroller: RefObject<HTMLElement | null>,
  pages: readonly { frame: PageFrame; turn: QuarterTurn }[],
  ready: boolean,
  /** Width of the margin that the paper has on its side, in a box so wide. */
  marginIn: number | ((width: number) => number) = MARGIN_WIDTH,
) {
  const [wish, setWish] = useState<Zoom>('width');
  const [room, setRoom] = useState<readonly [number, number] | null>(null);
  useLayoutEffect(() => {
    const element = scroller.current;
    if (!ready || !element) return;
    const measure = () => setRoom([element.clientWidth, element.clientHeight]);
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [scroller, ready]);
  const margin = typeof marginIn === 'number' ? marginIn : marginIn(room?.[0] ?? 0);
  const zoom = room ? fitZoom(wish, pages, ...roomFor(room, margin)) : 1;

  const anchor = useRef<Anchor | null>(null);
  const now = useRef(zoom);
  now.current = zoom;
  const zoomBy = useCallback(
    (factor: number, x: number, y: number) => {
      const page = nearestPage(scroller.current, x, y);
      if (page) {
        const rect = page.getBoundingClientRect();
        anchor.current = {
          page: page.dataset.index!,
          fx: (x - rect.left) / rect.width,
          fy: (y - rect.top) / rect.height,
          x,
          y,
        };
      }
      now.current = clampZoom(now.current * factor);
      setWish(now.current);
    },
    [scroller],
  );
  // Runs after the new zoom was laid out.
  useLayoutEffect(() => {
    const a = anchor.current;
    const page = a && scroller.current?.querySelector<HTMLElement>(`[data-index="${a.page}"]`);
    anchor.current = null;
    if (!a || !page) return;
    const rect = page.getBoundingClientRect();
    scroller.current!.scrollBy(rect.left + a.fx * rect.width - a.x, rect.top + a.fy * rect.height - a.y);
  }, [zoom]);
  const step = useCallback(
    (factor: number) => {
      const rect = scroller.current?.getBoundingClientRect();
      if (rect) zoomBy(factor, rect.left + rect.width / 2, rect.top + rect.height / 2);
    },
    [scroller, zoomBy],
  );
  return { zoom, room, setWish, zoomBy, step, measured: room !== null };
}

function nearestPage(scroller: HTMLElement | null, x: number, y: number): HTMLElement | null {
  let best: HTMLElement | null = null;
  let distance = Number.POSITIVE_INFINITY;
  for (const page of scroller?.querySelectorAll<HTMLElement>('[data-index]') ?? []) {
    const r = page.getBoundingClientRect();
    const d = Math.hypot(Math.max(r.left - x, 0, x - r.right), Math.max(r.top - y, 0, y - r.bottom));
    if (d < distance) {
      distance = d;
      best = page;
    }
  }
  return best;
}

/** The page in the middle of the scroller, counted from 0. */
export function usePageInView(scroller: RefObject<HTMLElement | null>, ready: boolean): number {
  const [page, setPage] = useState(0);
  useEffect(() => {
    const element = scroller.current;
    if (!ready || !element) return;
    let frame = 0;
    const look = () => {
      frame = 0;
      const r = element.getBoundingClientRect();
      const found = nearestPage(element, r.left + r.width / 3, r.top + r.height / 2);
      if (found) setPage(Number(found.dataset.index));
    };
    const soon = () => {
      frame ||= requestAnimationFrame(look);
    };
    soon();
    element.addEventListener('scroll', soon, { passive: true });
    return () => {
      cancelAnimationFrame(frame);
      element.removeEventListener('scroll', soon);
    };
  }, [scroller, ready]);
  return page;
}
