import type { BankShape } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { addressOf } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { useLive } from '../live/useLive.ts';

/** What to do with a hint that one's bank is another: it is asked for where it is not known yet. */
export function useBankHints(): (seq: number | undefined) => void {
  const client = useQueryClient();
  const heard = useRef((seq: number | undefined) => {
    const known = client.getQueryData<BankShape>(keys.bank)?.seq ?? 0;
    if (seq !== undefined && seq > known) tell(client, 'bankChanged', {});
  });
  return heard.current;
}

/** Hears of changes that are made to one's bank in other windows, wherever they are open. */
export function useBankLine(): void {
  const heard = useBankHints();
  useLive<{ bank?: number }>(
    addressOf('bankLive', {}),
    ({ bank }) => heard(bank),
    () => {},
  );
}
