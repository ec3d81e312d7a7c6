import { useCallback, useState } from 'react';
import * as z from 'zod';
import { LEAST_MARGIN, MARGIN_WIDTH, MOST_MARGIN } from '../margin/margin-look.ts';

/** Widths in CSS pixels; of what lies beside, its share of the room for both in per cent. */
export const LEAST_SIZES = { slip: 272, strip: 76, margin: LEAST_MARGIN, beside: 20 } as const;
export const MOST_SIZES = { slip: 560, strip: 260, margin: MOST_MARGIN, beside: 75 } as const;
type Part = keyof typeof LEAST_SIZES;
const FIRST_SIZES: Readonly<Record<Part, number>> = {
  slip: 286,
  strip: LEAST_SIZES.strip,
  margin: MARGIN_WIDTH,
  beside: 50,
};
const width = (part: Part) =>
  z.number().min(LEAST_SIZES[part]).max(MOST_SIZES[part]).default(FIRST_SIZES[part]);

const Layout = z.object({
  slip: z.boolean(),
  strip: z.boolean(),
  pages: z.boolean().default(false),
  margin: z.enum(['wide', 'narrow']),
  side: z.enum(['left', 'right']),
  /** The table is dark in the evening; paper never is. */
  dark: z.boolean(),
  only: z.enum(['paper', 'slip']).nullable(),
  /** How wide each part was pulled. */
  sizes: z
    .object({ slip: width('slip'), strip: width('strip'), margin: width('margin'), beside: width('beside') })
    .default(FIRST_SIZES),
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
  sizes: FIRST_SIZES,
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
