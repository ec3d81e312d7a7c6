import { useCallback, useState } from 'react';
import * as z from 'zod';

const Layout = z.object({
  slip: z.boolean(),
  strip: z.boolean(),
  pages: z.boolean().default(false),
  margin: z.enum(['wide', 'narrow']),
  side: z.enum(['left', 'right']),
  /** The table is dark in the evening; paper never is. */
  dark: z.boolean(),
  only: z.enum(['paper', 'slip']).nullable(),
});
export type DeskLayout = z.infer<typeof Layout>;

const KEPT = 'jotmark.desk';
/** On a tablet held upright the paper has the room first. */
const WIDE = window.innerWidth >= 900;
const FIRST: DeskLayout = {
  slip: WIDE,
  strip: WIDE,
  pages: false,
  margin: 'wide',
  side: 'right',
  dark: false,
  only: null,
};

function kept(): DeskLayout {
  try {
    const read = Layout.safeParse(JSON.parse(localStorage.getItem(KEPT) ?? 'null'));
    return read.success ? read.data : FIRST;
  } catch {
    return FIRST;
  }
}

/** How the desk is laid out, remembered in this browser: what is folded, where the margin is, how light the table. */
export function useDeskLayout(): readonly [DeskLayout, (change: Partial<DeskLayout>) => void] {
  const [layout, setLayout] = useState(kept);
  const change = useCallback((part: Partial<DeskLayout>) => {
    setLayout((before) => {
      const next = { ...before, ...part };
      try {
        localStorage.setItem(KEPT, JSON.stringify(next));
      } catch {
        // Full or forbidden: it holds for this sitting.
      }
      return next;
    });
  }, []);
  return [layout, change];
}
