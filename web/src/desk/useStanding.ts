import type { Sheet } from '@jotmark/core';
import { useState } from 'react';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useKept } from '../outbox/useSheetKeeper.ts';

const sheetOf = (view: KeeperView) => view.sheet;
const clashesOf = (view: KeeperView) => view.clashes;

/** The sheet as it is shown: as it stands, or as it stood while one looks back. */
export function useStanding(keeper: SheetKeeper, readOnly: boolean) {
  const standing = useKept(keeper, sheetOf);
  const clashes = useKept(keeper, clashesOf);
  const [past, setPast] = useState<'closed' | 'now' | Sheet>('closed');
  const looksBack = past !== 'closed';
  return {
    standing,
    clashes,
    sheet: typeof past === 'object' ? past : standing,
    looksBack,
    /** Nothing is written: what is shown is as it stood, or was handed back. */
    fixed: readOnly || looksBack,
    lookBack: setPast,
  };
}
