import type { DocumentState } from '@jotmark/core';
import { useEffect, useRef } from 'react';

/** Whether a document is still to become pages. */
const isWaiting = ({ shows, reading }: DocumentState): boolean =>
  shows === 'pages' && reading.state !== 'done' && reading.state !== 'failed';

/**
 * With its pages come things that only reading finds: where a long answer's pages break, what its student noted beside it, where a name stands. Whoever was shown a
 * copy before it was read asks once more when it is.
 */
export function useOnceRead(documents: readonly DocumentState[], settled: boolean, onRead: () => void): void {
  const waits = useRef(documents.some(isWaiting));
  const tell = useRef(onRead);
  tell.current = onRead;
  useEffect(() => {
    if (!settled || !waits.current) return;
    waits.current = false;
    tell.current();
  }, [settled]);
}
