import type { Box, MarginMark, Mark, PageText, PageView } from '@jotmark/core';
import type { ReactNode } from 'react';
import { viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import { MarkedPage } from './MarkedPage.tsx';
import type { MarginLook } from './margin-look.ts';

interface Props {
  readonly pages: readonly ShownPage[];
  readonly zoom: number;
  /** The marks of each page. */
  readonly byPage: readonly (readonly Mark[])[];
  readonly picked: readonly Mark[];
  /** Words picked with the keyboard on a page, as boxes; none by default. */
  readonly wordsOn?: (page: number) => readonly Box[];
  /** Other places of words that are looked for, on a page. */
  readonly foundOn?: (page: number) => readonly Box[];
  /** The words of each page; null where they are not known. */
  readonly texts?: readonly (PageText | null)[];
  readonly active: string | null;
  readonly look: MarginLook;
  /** What else lies over a page; null where nothing does. */
  over?(page: ShownPage, view: PageView): ReactNode;
  /** The active note's words are being written. */
  readonly editing?: boolean;
  /** Should be the same function from render to render: with another one every page is made anew. */
  onActivate(note: MarginMark | null, edit: boolean): void;
}

const NO_MARKS: readonly Mark[] = [];
const NO_BOXES: readonly Box[] = [];

/** All pages of a document one below the other, each with its marks and its margin: on the desk and in the student's hands alike. */
export function MarkedPageStack(p: Props) {
  return (
    <div className="mx-auto flex w-max flex-col gap-5">
      {p.pages.map((page, i) => {
        const marks = p.byPage[i] ?? NO_MARKS;
        const picked = p.picked.filter((m) => m.page === page.page && m.document === page.document);
        return (
          <MarkedPage
            key={`${page.document}/${page.page}`}
            page={page}
            zoom={p.zoom}
            marks={marks}
            picked={picked.length ? picked : NO_MARKS}
            words={p.wordsOn?.(i) ?? NO_BOXES}
            found={p.foundOn?.(i) ?? NO_BOXES}
            active={p.active !== null && marks.some((m) => m.id === p.active) ? p.active : null}
            look={p.look}
            editing={p.editing ?? false}
            text={p.texts?.[i] ?? null}
            over={p.over?.(page, viewOf(page.frame, page.turn, p.zoom)) ?? null}
            onActivate={p.onActivate}
          />
        );
      })}
    </div>
  );
}
