import type { Desk } from '@jotmark/core';
import { useEffect, useState } from 'react';
import { addressOf, CallFailed, call } from '../api/call.ts';
import { useBankHints } from '../bank/useBankLine.ts';
import { type Hint, useLive } from '../live/useLive.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';

/** What became of the hand-in on the desk: its student took it back, or another lies on top of it. */
export type Gone = 'taken-back' | 'another';

/** Hears at once of marks that are made elsewhere, and of phrases. Only while the desk is in sight: a browser opens few lines to one server. */
export function useDeskLine({ copyId, handIn }: Desk, keeper: SheetKeeper): Gone | null {
  const heardOfBank = useBankHints();
  const inSight = useInSight();
  const [gone, setGone] = useState<Gone | null>(null);
  // The hint says only that something came in or was taken back; what holds is asked for.
  const look = () =>
    call('desk', { params: { copyId } }).then(
      (now) => setGone(now.handIn.id === handIn.id ? null : 'another'),
      (error) => error instanceof CallFailed && error.code === 'not-found' && setGone('taken-back'),
    );
  useLive<{ seq?: number; bank?: number; kind?: Hint['kind'] }>(
    inSight ? addressOf('deskLive', { handInId: handIn.id }) : null,
    ({ seq, bank, kind }) => {
      if (seq !== undefined) keeper.heardOf(seq);
      if (kind === 'hand-in') look();
      heardOfBank(bank);
    },
    () => {},
  );
  return gone;
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
