import { type Box, coverOf, type Mark, overlaps, pageSize } from '@jotmark/core';
import { indexOfMark } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';

/** A box on a page of the stack, in page space. */
export interface BoxOnPage {
  readonly index: number;
  readonly area: Box;
}

/** Brings a mark, or a box on a page, into sight if it is out of it. */
export function reveal(
  scroller: HTMLElement | null,
  what: Mark | BoxOnPage,
  pages: readonly ShownPage[],
  zoom: number,
): void {
  const index = 'area' in what ? what.index : indexOfMark(pages, what);
  const page = pages[index];
  const element = scroller?.querySelector<HTMLElement>(`[data-index="${index}"]`);
  if (!scroller || !element || !page) return;
  const box = 'area' in what ? what.area : coverOf(what);
  const view = viewOf(page.frame, page.turn, zoom);
  const outer = scroller.getBoundingClientRect();
  const rect = element.getBoundingClientRect();
  const [w, h] = pageSize(page.frame);
  // In the unrotated page the middle of the box is this share of the way; turned pages are brought in whole.
  const y =
    view.turn === 0 ? rect.top + ((box[1] + box[3]) / 2 / h) * rect.height : rect.top + rect.height / 2;
  const x =
    view.turn === 0 ? rect.left + ((box[0] + box[2]) / 2 / w) * rect.width : rect.left + rect.width / 2;
  const seen = overlaps(
    [x, y, x, y],
    [outer.left + 20, outer.top + 20, outer.right - 20, outer.bottom - 110],
  );
  if (!seen)
    scroller.scrollBy(
      Math.min(0, x - outer.left - 40) + Math.max(0, x - outer.right + 40),
      y - outer.top - outer.height / 2,
    );
}
