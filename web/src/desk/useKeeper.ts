import type { Desk } from '@jotmark/core';
import { keptState } from '../outbox/kept-state.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useSheetKeeper } from '../outbox/useSheetKeeper.ts';

/** The keeper of the marking on this desk. */
export const useKeeper = (desk: Desk): SheetKeeper | null =>
  useSheetKeeper(desk.handIn.id, () => keptState(desk.marking));
