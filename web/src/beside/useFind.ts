import { bandsOver, findWords, type PageText } from '@jotmark/core';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import type { BoxOnPage } from '../hand/reveal.ts';

/** Words that are looked for on the pages: where they are, and which of them is in sight. Null words: nobody looks. */
export function useFind(texts: readonly (PageText | null | undefined)[], show: (place: BoxOnPage) => void) {
  const [words, setWords] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  const wanted = useDeferredValue(words);
  const found = useMemo(
    () =>
      wanted === null
        ? []
        : texts.flatMap((text, index) =>
            text ? findWords(text, wanted).map((range) => ({ index, bands: bandsOver(text, range) })) : [],
          ),
    [texts, wanted],
  );
  // What is looked for is in sight as soon as it is typed.
  const newest = useRef(show);
  newest.current = show;
  useEffect(() => {
    const first = found[0];
    if (first) newest.current({ index: first.index, area: first.bands[0]! });
  }, [found]);
  const now = found.length ? at % found.length : 0;
  const go = (to: number) => {
    const next = found[to];
    if (!next) return;
    setAt(to);
    show({ index: next.index, area: next.bands[0]! });
  };
  return {
    words,
    at: now,
    found: found.length,
    begin: () => setWords(''),
    end: () => setWords(null),
    write(next: string) {
      setWords(next);
      setAt(0);
    },
    move: (by: 1 | -1) => go((now + by + found.length) % Math.max(1, found.length)),
    /** The found ones of a page; the one in sight apart. */
    onPage: (index: number) => ({
      here: found[now]?.index === index ? found[now].bands : [],
      others: found.flatMap((f, i) => (f.index === index && i !== now ? f.bands : [])),
    }),
  };
}
