import { useCallback, useEffect, useRef, useState } from 'react';
import * as z from 'zod';

/** How long words rest before they become a change. */
const REST_MS = 250;
/** A draft that old belongs to no living tab: a living one would have committed it. */
const LEFT_MS = 3000;

export interface Draft<T> {
  readonly about: T;
  readonly words: string;
}

interface Options<T> {
  /** Where this browser keeps the words between the key and the commit. */
  readonly place: string;
  commit(about: T, words: string): void;
  /** The field shows by itself what is typed: a key renders nothing here but the first of a burst. */
  readonly quiet?: boolean;
  /** Resolves when what was committed is on the device. */
  written(): Promise<void>;
}

/**
 * Words while they are typed: shown at once and kept in this browser with the very key, committed when the typing
 * rests, and at the latest when the field is left or the page hidden. A tab that dies in between leaves them for the next one.
 * `about` names what they belong to; another one commits the first.
 */
export function useDraft<T extends string>(options: Options<T>) {
  const [draft, setDraft] = useState<Draft<T> | null>(null);
  const [pending, setPending] = useState(false);
  const held = useRef<Draft<T> | null>(null);
  const clock = useRef(0);
  const latest = useRef(options);
  latest.current = options;

  const flush = useCallback(() => {
    clearTimeout(clock.current);
    const now = held.current;
    held.current = null;
    setDraft(null);
    setPending(false);
    if (!now) return;
    const { commit, written, place } = latest.current;
    commit(now.about, now.words);
    written().then(() => {
      if (!held.current) forget(place);
    });
  }, []);

  const type = useCallback(
    (about: T, words: string) => {
      if (held.current && held.current.about !== about) flush();
      held.current = { about, words };
      remember(latest.current.place, held.current);
      setPending(true);
      if (!latest.current.quiet) setDraft(held.current);
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

  const { place } = options;
  useEffect(() => takeOver<T>(place, (left) => latest.current.commit(left.about, left.words)), [place]);

  return { draft, pending, type, flush };
}

function remember<T extends string>(place: string, draft: Draft<T>): void {
  try {
    localStorage.setItem(place, JSON.stringify({ ...draft, at: Date.now() } satisfies Left));
  } catch {
    // Full or forbidden: the commit a moment later is still on its way.
  }
}

function forget(place: string): void {
  try {
    localStorage.removeItem(place);
  } catch {
    // It is committed once more then, and changes nothing.
  }
}

const Left = z.object({ about: z.string(), words: z.string(), at: z.number() });
type Left = z.infer<typeof Left>;

/** What lies there; what cannot be read is no draft, and goes. */
function leftAt(place: string): { readonly text: string; readonly left: Left } | null {
  try {
    const text = localStorage.getItem(place);
    if (!text) return null;
    const left = Left.safeParse(JSON.parse(text));
    if (left.success) return { text, left: left.data };
  } catch {
    // Not even words.
  }
  forget(place);
  return null;
}

/** Commits what a tab that died left behind, once it is sure that no tab is still typing it. */
function takeOver<T extends string>(place: string, use: (left: Draft<T>) => void): (() => void) | undefined {
  const found = leftAt(place);
  if (!found) return undefined;
  const wait = Math.min(LEFT_MS, Math.max(0, found.left.at + LEFT_MS - Date.now()));
  const timer = setTimeout(() => {
    const still = leftAt(place);
    if (still?.text !== found.text) return;
    use({ about: still.left.about as T, words: still.left.words });
    forget(place);
  }, wait);
  return () => clearTimeout(timer);
}
