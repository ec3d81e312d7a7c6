import { useCallback, useEffect, useRef, useState } from 'react';

/** How long words rest before they become a change. */
const REST_MS = 250;

/**
 * Words while they are typed: shown at once, committed when the typing rests, and at the latest when the field is left, the
 * page hidden or closed. `about` names what they belong to; another one commits the first.
 */
export function useDraft<T>(commit: (about: T, words: string) => void) {
  const [draft, setDraft] = useState<{ about: T; words: string } | null>(null);
  const held = useRef<{ about: T; words: string } | null>(null);
  const clock = useRef(0);
  const latest = useRef(commit);
  latest.current = commit;

  const flush = useCallback(() => {
    clearTimeout(clock.current);
    const now = held.current;
    held.current = null;
    setDraft(null);
    if (now) latest.current(now.about, now.words);
  }, []);

  const type = useCallback(
    (about: T, words: string) => {
      if (held.current && held.current.about !== about) flush();
      held.current = { about, words };
      setDraft(held.current);
      clearTimeout(clock.current);
      clock.current = window.setTimeout(flush, REST_MS);
    },
    [flush],
  );

  useEffect(() => {
    const hidden = () => document.visibilityState === 'hidden' && flush();
    document.addEventListener('visibilitychange', hidden);
    window.addEventListener('pagehide', flush);
    return () => {
      document.removeEventListener('visibilitychange', hidden);
      window.removeEventListener('pagehide', flush);
      flush();
    };
  }, [flush]);

  return { draft, type, flush };
}
