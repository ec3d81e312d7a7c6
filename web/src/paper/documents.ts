import type { DocumentId, DocumentPages } from '@jotmark/core';
import type { QueryClient } from '@tanstack/react-query';
import { call, callBytes } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { engine } from './engine.ts';

/** Documents open in the engine at a time: this copy, its neighbours, and one to come back to. */
const MOST_OPEN = 4;

const open = new Map<DocumentId, Promise<void>>();

/** Fetches a document's bytes and opens it in the engine, once. */
export function openInEngine(id: DocumentId): Promise<void> {
  const known = open.get(id);
  if (known) {
    open.delete(id);
    open.set(id, known);
    return known;
  }
  const opening = callBytes('documentFile', { documentId: id }).then((bytes) => engine.open(id, bytes));
  open.set(id, opening);
  opening.catch(() => open.delete(id));
  for (const old of open.keys()) {
    if (open.size <= MOST_OPEN) break;
    open.delete(old);
    engine.close(old);
  }
  return opening;
}

/** What belongs to one document is let go soon after it was put away: a pile has many. */
const KEEP_MS = 20_000;

/** Pages of a document, asked again while they are still being read. */
export const pagesQuery = (id: DocumentId) => ({
  queryKey: keys.document(id, 'pages'),
  queryFn: () => call('documentPages', { params: { documentId: id } }),
  gcTime: KEEP_MS,
  refetchOnWindowFocus: false,
  refetchInterval: (query: { state: { data?: DocumentPages | undefined } }) => {
    const state = query.state.data?.state;
    const reading = state?.shows === 'pages' ? state.reading.state : 'done';
    return reading === 'queued' || reading === 'running' ? 500 : (false as const);
  },
});
/** Its text layer, which never changes once the pages are read. */
export const textQuery = (id: DocumentId) => ({
  queryKey: keys.document(id, 'text'),
  queryFn: () => call('documentText', { params: { documentId: id } }),
  staleTime: Number.POSITIVE_INFINITY,
  gcTime: KEEP_MS,
});

export const isRead = (pages: DocumentPages | undefined) => pages?.state.reading.state === 'done';

/** Fetches ahead all that opening the document will need. */
export async function fetchAhead(client: QueryClient, id: DocumentId): Promise<DocumentPages> {
  const [pages] = await Promise.all([
    client.fetchQuery({ ...pagesQuery(id), staleTime: 60_000 }),
    openInEngine(id),
  ]);
  if (isRead(pages)) client.prefetchQuery(textQuery(id));
  return pages;
}
