import { type Drawn, type PageText, type Point, toPage, wordsBetween } from '@jotmark/core';
import { viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';

interface Paper {
  readonly pages: readonly ShownPage[];
  readonly texts: readonly (PageText | null)[];
  readonly zoom: number;
}

/** A place on a page without a pen's way to it: the word there, or the spot. */
export function drawnAt({ pages, texts, zoom }: Paper, index: number, at: Point): Drawn | null {
  const page = pages[index];
  if (!page) return null;
  const text = texts[index] ?? null;
  return {
    page: { ...page, text, view: viewOf(page.frame, page.turn, zoom) },
    start: at,
    at,
    points: [],
    range: text && wordsBetween(text, at, at),
    travelled: 0,
    straight: false,
    exact: null,
  };
}

/** The same where the pointer is; null where it is on no page. */
export function drawnUnder(paper: Paper, target: Element | null, x: number, y: number): Drawn | null {
  const sheet = target?.closest<HTMLElement>('[data-index]');
  const index = Number(sheet?.dataset.index);
  const page = paper.pages[index];
  if (!sheet || !page || target?.closest('[data-own-pointer]')) return null;
  const rect = sheet.getBoundingClientRect();
  const view = viewOf(page.frame, page.turn, paper.zoom);
  return drawnAt(paper, index, toPage(view, [x - rect.left, y - rect.top]));
}
