import { useEffect, useState, useSyncExternalStore } from 'react';
import type { SheetId } from './device.ts';
import { outbox } from './outbox.ts';
import type { KeeperView, KeptState, SheetKeeper } from './sheet-keeper.ts';

/** Renders again whenever something waits, or no longer waits, of which no sheet is open. */
export const useOutbox = (): number => useSyncExternalStore(outbox.subscribe, () => outbox.version);

/** A part of what a keeper shows; only when that part is another is anything rendered. */
export function useKept<T>(keeper: SheetKeeper, part: (view: KeeperView) => T): T {
  return useSyncExternalStore(keeper.subscribe, () => part(keeper.view));
}

/**
 * The keeper of one sheet in this tab, beginning with `state`. Null for a moment at the first one, while the browser's database opens. A sheet
 * is the same for as long as it is shown: another one is another component.
 */
export function useSheetKeeper(sheetId: SheetId, state: () => KeptState): SheetKeeper | null {
  const [keeper, setKeeper] = useState(() =>
    outbox.deviceNow === undefined ? null : outbox.keeperOf(sheetId, state),
  );
  useEffect(() => {
    if (keeper) return outbox.use(sheetId, keeper);
    let gone = false;
    outbox.device().then(() => !gone && setKeeper(outbox.keeperOf(sheetId, state)));
    return () => {
      gone = true;
    };
  }, [sheetId, keeper]);
  return keeper;
}
