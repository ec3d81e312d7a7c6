import type { HandInId } from '@jotmark/core';
import { useEffect, useState } from 'react';
import { addressOf } from '../api/call.ts';
import { useBankHints } from '../bank/useBankLine.ts';
import { useLive } from '../live/useLive.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';

/** Hears at once of marks that are made elsewhere, and of phrases. Only while the desk is in sight: a browser opens few lines to one server. */
export function useDeskLine(handInId: HandInId, keeper: SheetKeeper): void {
  const heardOfBank = useBankHints();
  const inSight = useInSight();
  useLive<{ seq?: number; bank?: number }>(
    inSight ? addressOf('deskLive', { handInId }) : null,
    ({ seq, bank }) => {
      if (seq !== undefined) keeper.heardOf(seq);
      heardOfBank(bank);
    },
    () => {},
  );
}

function useInSight(): boolean {
  const [inSight, setInSight] = useState(document.visibilityState === 'visible');
  useEffect(() => {
    const look = () => setInSight(document.visibilityState === 'visible');
    document.addEventListener('visibilitychange', look);
    return () => document.removeEventListener('visibilitychange', look);
  }, []);
  return inSight;
}
