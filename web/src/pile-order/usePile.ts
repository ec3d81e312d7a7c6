import { type AssignmentId, type Pile, withWrites } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { sheetOfRow } from '../outbox/alone.ts';
import { isChange } from '../outbox/letter.ts';
import { outbox } from '../outbox/outbox.ts';
import { useOutbox } from '../outbox/useSheetKeeper.ts';

/** The pile of one assignment, kept fresh while pages are still being read. What was typed into it and still waits is shown as typed. */
export function usePile(assignmentId: AssignmentId | null) {
  const pile = useQuery({
    queryKey: keys.pile(assignmentId!),
    queryFn: () => call('pile', { params: { assignmentId: assignmentId! } }),
    enabled: assignmentId !== null,
    refetchInterval: (query) =>
      query.state.data?.rows.some((r) => r.reading?.state === 'queued' || r.reading?.state === 'running')
        ? 1000
        : 20_000,
  });
  const version = useOutbox();
  const data = useMemo(() => pile.data && withWaiting(pile.data), [pile.data, version]);
  return { data, error: pile.error, refetch: pile.refetch };
}

function withWaiting(pile: Pile): Pile {
  const rows = pile.rows.map((row) => withWrites(row, outbox.waitingIn(sheetOfRow(row)).filter(isChange)));
  return rows.some((row, i) => row !== pile.rows[i]) ? { ...pile, rows } : pile;
}
