import type { Mark, Sheet } from '@jotmark/core';
import { useEffect, useRef } from 'react';
import { useSearchParams } from 'react-router';

/** Whoever comes from the news sees the mark that they are about: picked once, as soon as its page is there. */
export function useMarkWanted(ready: boolean, sheet: Sheet, pick: (mark: Mark) => void): void {
  const [search] = useSearchParams();
  const wanted = search.get('mark');
  const done = useRef<string | null>(null);
  useEffect(() => {
    if (!ready || !wanted || done.current === wanted) return;
    const mark = [...sheet.marks.values()].find((m) => m.value?.id === wanted)?.value;
    if (!mark) return;
    done.current = wanted;
    pick(mark);
  }, [ready, wanted, sheet, pick]);
}
