import type { DocumentId, DocumentState, PageFrame, PageText, QuarterTurn, Turns } from '@jotmark/core';
import { useQueries } from '@tanstack/react-query';
import { useMemo, useRef } from 'react';
import { isRead, pagesQuery, textQuery } from './documents.ts';

/** One page of all that lies on a desk or in a student's hands, whichever document it belongs to. */
export interface ShownPage {
  readonly document: DocumentId;
  /** Page of its document, counted from 0. */
  readonly page: number;
  readonly frame: PageFrame;
  readonly turn: QuarterTurn;
  /** Set on the first page of a document when there are several: the name to show above it. */
  readonly heading: string | null;
  /** Its place in the stack, counted from 0, and how many there are. */
  readonly index: number;
  readonly of: number;
}

/** The document's pages together as one stack, as far as they have been read. */
export function usePageList(
  documents: readonly DocumentState[],
  /** Turns that were frozen; without them those of the server. */
  frozen: Readonly<Record<string, Turns>> | null = null,
) {
  const withPages = useMemo(() => documents.filter((d) => d.shows === 'pages'), [documents]);
  const queries = useQueries({ queries: withPages.map((d) => pagesQuery(d.id)) });
  const data = queries.map((q) => q.data);
  const known = useRef(data);
  if (known.current.length !== data.length || known.current.some((d, i) => d !== data[i]))
    known.current = data;
  const stable = known.current;
  const pages = useMemo(() => {
    const shown = withPages.flatMap((d, k): Omit<ShownPage, 'index' | 'of'>[] => {
      const turns = frozen?.[d.id] ?? stable[k]?.turns ?? {};
      return (stable[k]?.frames ?? []).map((frame, page) => ({
        document: d.id,
        page,
        frame,
        turn: (turns[String(page)] ?? 0) as QuarterTurn,
        heading: page === 0 && documents.length > 1 ? d.name : null,
      }));
    });
    return shown.map((page, index): ShownPage => ({ ...page, index, of: shown.length }));
  }, [withPages, stable, frozen, documents.length]);
  const states = withPages.map((d, k) => ({ ...d, ...stable[k]?.state }));
  return {
    pages,
    /** Every document is read and here, or has no pages and never will: the stack grows no more. */
    settled:
      !queries.some((q) => q.isPending) &&
      states.every((s) => s.shows !== 'pages' || s.reading.state === 'done' || s.reading.state === 'failed'),
    states,
    error: queries.find((q) => q.error)?.error ?? null,
    turnsOf: (id: DocumentId): Turns => stable[withPages.findIndex((d) => d.id === id)]?.turns ?? {},
    read: stable.map(isRead),
  };
}

/** The text layers of a stack's pages, in its order; null where there is none yet. */
export function usePageTexts(pages: readonly ShownPage[]): (PageText | null)[] {
  const ids = useMemo(() => [...new Set(pages.map((p) => p.document))], [pages]);
  const texts = useQueries({ queries: ids.map((id) => textQuery(id)) }).map((q) => q.data);
  const known = useRef(texts);
  if (known.current.length !== texts.length || known.current.some((t, i) => t !== texts[i]))
    known.current = texts;
  const stable = known.current;
  return useMemo(
    () => pages.map((p) => stable[ids.indexOf(p.document)]?.[p.page] ?? null),
    [pages, stable, ids],
  );
}
