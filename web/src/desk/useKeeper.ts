import { type Desk, EMPTY_SHEET, type MarkingState } from '@jotmark/core';
import type { KeptState, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useSheetKeeper } from '../outbox/useSheetKeeper.ts';

function keptState({ seq, marks, slip }: MarkingState): KeptState {
  const standing = new Map(marks.map((m) => [m.id, { value: m.mark, version: m.version }]));
  return { seq, sheet: { ...EMPTY_SHEET, marks: standing, slip } };
}

/** The keeper of the marking on this desk. */
export const useKeeper = (desk: Desk): SheetKeeper | null =>
  useSheetKeeper(desk.handIn.id, () => keptState(desk.marking));
