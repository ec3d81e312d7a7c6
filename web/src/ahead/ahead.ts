import type { CopyId, Mark, QuarterTurn } from '@jotmark/core';
import { viewSize } from '@jotmark/core';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { roomFor } from '../hand/useZoom.ts';
import { fitZoom } from '../hand/zoom.ts';
import { fetchAhead } from '../paper/documents.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { preparePath } from '../paper/paint.ts';
import { pictures, pixelSize } from '../paper/pictures.ts';

export const deskQuery = (copyId: CopyId) => ({
  queryKey: keys.desk(copyId),
  queryFn: () => call('desk', { params: { copyId } }),
});

/** A copy fetched longer ago than this is asked for again. */
const FRESH_MS = 20_000;

/** The room the paper had last time beside its margin, to draw the next page at the very size it will be shown. */
let lastRoom: readonly [number, number] | null = null;
export function rememberRoom(room: readonly [number, number], margin: number): void {
  lastRoom = roomFor(room, margin);
}

/** Strip and slip beside the paper, for the first copy of a sitting. */
const guessRoom = () => roomFor([innerWidth - 76 - 286, innerHeight - 48]);

/** When the browser has nothing else to do; says how many milliseconds are left for something. */
function idle(): Promise<() => number> {
  return new Promise((resolve) => {
    if (typeof requestIdleCallback === 'function')
      requestIdleCallback((deadline) => resolve(() => deadline.timeRemaining()), { timeout: 500 });
    else
      setTimeout(() => {
        const end = performance.now() + 8;
        resolve(() => end - performance.now());
      }, 50);
  });
}

/** Outlines of strokes are found while nothing else is to be done. */
async function prepareMarks(marks: readonly Mark[]): Promise<void> {
  for (let at = 0; at < marks.length; ) {
    const left = await idle();
    // At least some, however busy it is.
    for (let n = 0; at < marks.length && (n < 5 || left() > 1); n++) preparePath(marks[at++]!);
  }
}

/** Fetches a copy ahead, down to the picture of its first page at the size it will have. Failing is no matter: it is asked for again. */
export async function prepareCopy(client: QueryClient, copyId: CopyId): Promise<void> {
  try {
    const desk = await client.fetchQuery({ ...deskQuery(copyId), staleTime: FRESH_MS });
    const document = desk.documents.find((d) => d.shows === 'pages');
    if (!document) return;
    const { frames, turns } = await fetchAhead(client, document.id);
    const pages = frames.map((frame, i) => ({ frame, turn: (turns[String(i)] ?? 0) as QuarterTurn }));
    const first = pages[0];
    if (!first) return;
    const view = viewOf(first.frame, first.turn, fitZoom('width', pages, ...(lastRoom ?? guessRoom())));
    await pictures.get(
      { key: document.id, page: 0, turn: first.turn, ...pixelSize(...viewSize(view), devicePixelRatio) },
      1,
    );
    await prepareMarks(
      desk.marking.marks.flatMap(({ mark }) =>
        mark?.document === document.id && mark.page === 0 ? [mark] : [],
      ),
    );
  } catch {
    // Shown where it is really opened.
  }
}

/** Handlers for a link to a copy: a hand that comes near it has it made ready. */
export function usePrepare() {
  const client = useQueryClient();
  return useMemo(
    () => (copyId: CopyId) => {
      const prepare = () => void prepareCopy(client, copyId);
      return { onPointerEnter: prepare, onFocus: prepare, onPointerDown: prepare };
    },
    [client],
  );
}

/** Makes the copy that comes next ready while this one is being marked. */
export function useAhead(copyId: CopyId | undefined, ready: boolean): void {
  const client = useQueryClient();
  useEffect(() => {
    if (!copyId || !ready) return;
    const clock = setTimeout(() => prepareCopy(client, copyId), 250);
    return () => clearTimeout(clock);
  }, [client, copyId, ready]);
}
