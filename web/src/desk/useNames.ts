import type { Box, Desk } from '@jotmark/core';
import { useMemo, useState } from 'react';
import { type Covered, NOTHING_COVERED } from '../paper/covered.ts';
import type { ShownPage } from '../paper/page-list.ts';

export interface NamesNow {
  /** Pages on which the student's name stands, counted from 1. */
  readonly pages: readonly number[];
  readonly covered: Covered;
  readonly shown: boolean;
  show(on: boolean): void;
}

/** Names on the pages of a copy that is marked blind: covered from the first moment, until the teacher wants to see them. */
export function useNames({ named }: Desk, pages: readonly ShownPage[]): NamesNow {
  const [shown, show] = useState(false);
  const boxes = useMemo(() => {
    const out = new Map<string, Box[]>();
    for (const { document, page, box } of named) {
      const key = `${document}/${page}`;
      out.set(key, [...(out.get(key) ?? []), box]);
    }
    return out;
  }, [named]);
  const on = useMemo(
    () => pages.flatMap((p, i) => (boxes.has(`${p.document}/${p.page}`) ? [i + 1] : [])),
    [pages, boxes],
  );
  return { pages: on, covered: shown ? NOTHING_COVERED : boxes, shown, show };
}
