import { useEffect, useRef, useState } from 'react';

export interface Hint {
  readonly copyId: string;
  readonly kind: 'work' | 'here' | 'hand-in' | 'word' | 'hand-back' | 'recall';
}

/** Live: hints come. Waiting: the line broke and is tried again; what was missed is asked for when it is back. */
export type LineState = 'live' | 'waiting';

/**
 * Keeps a line to the server open and hears its hints. Whenever it opens `again` is called: hints from before are lost, so
 * everything is asked for anew.
 */
export function useLive<T = Hint>(
  address: string | null,
  heard: (hint: T) => void,
  again: () => void,
): LineState {
  const [state, setState] = useState<LineState>('waiting');
  const newest = useRef({ heard, again });
  newest.current = { heard, again };
  useEffect(() => {
    if (!address) return;
    const line = new EventSource(address);
    line.onopen = () => {
      setState('live');
      newest.current.again();
    };
    line.onmessage = (e) => newest.current.heard(JSON.parse(e.data) as T);
    line.onerror = () => {
      setState('waiting');
    };
    return () => line.close();
  }, [address]);
  return state;
}
