import type { PileRow, ScoreSheet } from '@jotmark/core';
import { useMemo } from 'react';
import { usePile } from '../pile-order/usePile.ts';
import { useArranged, usePileView } from '../pile-order/usePileView.ts';

const NONE: PileRow[] = [];

/** Where this copy lies in its pile, as the pile was last arranged, whatever came in. */
export function useScorePlace(sheet: ScoreSheet) {
  const pile = usePile(sheet.assignment.id);
  const [view] = usePileView(sheet.assignment.id);
  const rows = useArranged(pile.data?.rows ?? NONE, view);
  return useMemo(() => {
    const here = rows.findIndex((r) => r.copyId === sheet.copyId);
    return { rows, before: rows[here - 1] ?? null, next: rows[here + 1] ?? null };
  }, [rows, sheet.copyId]);
}
