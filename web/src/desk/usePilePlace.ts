import { type Desk, type PileRow, waits } from '@jotmark/core';
import { useMemo } from 'react';
import { usePile } from '../pile-order/usePile.ts';
import { useArranged, usePileView } from '../pile-order/usePileView.ts';

const NO_ROWS: PileRow[] = [];

/** Where the copy on the desk lies in its pile, as the pile was last arranged. */
export function usePilePlace(desk: Desk) {
  const pile = usePile(desk.assignment.id);
  const [pileView] = usePileView(desk.assignment.id);
  const arranged = useArranged(pile.data?.rows ?? NO_ROWS, pileView);
  return useMemo(() => {
    const inPile = arranged.filter((r) => r.handInNumber > 0);
    // The copy in hand stays in the strip, though the filter would leave it out.
    const rows = inPile.some((r) => r.copyId === desk.copyId)
      ? inPile
      : [...(pile.data?.rows ?? NO_ROWS).filter((r) => r.copyId === desk.copyId), ...inPile];
    const here = rows.findIndex((r) => r.copyId === desk.copyId);
    return {
      rows,
      before: rows[here - 1] ?? null,
      next: rows[here + 1] ?? null,
      /** The next one that waits to be marked, from here on and round to the beginning. */
      nextWaiting:
        [...rows.slice(here + 1), ...rows.slice(0, Math.max(0, here))].find((r) => waits(r.place)) ?? null,
    };
  }, [arranged, pile.data, desk.copyId]);
}
