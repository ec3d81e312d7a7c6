import { HAND_TOOLS, PEN_KEYS, type Pen, penWithoutPoints, type Trays, trayOut } from '@jotmark/core';
import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { toast } from '../frame/toast.ts';

export const traysQuery = queryOptions({
  queryKey: keys.trays,
  queryFn: () => call('trays'),
  staleTime: Number.POSITIVE_INFINITY,
});

const TAKEN = 'jotmark.pen';
const HAND = HAND_TOOLS[0]!;

/** The pen that a key takes: of the tray that lies out, or one of those that always lie beside it. */
function penOf(trays: Trays, key: string): Pen | null {
  const beside = HAND_TOOLS.find((t) => t.key === key);
  if (beside) return beside.pen;
  return trayOut(trays).pens[PEN_KEYS.indexOf(key as (typeof PEN_KEYS)[number])] ?? null;
}

export interface TraysInHand {
  /** Whether stamps earn points here. */
  readonly graded: boolean;
  readonly trays: Trays;
  /** The key of what was taken. */
  readonly taken: string;
  readonly pen: Pen;
  /** The pen that a key takes. */
  penAt(key: string): Pen | null;
  take(key: string): void;
  /** Takes a pen for as long as its key is held. */
  lend(key: string): void;
  /** The key was let go: back to the pen before, if it was held and not just struck. */
  giveBack(key: string, wasHeld: boolean): void;
  keep(trays: Trays): void;
}

/** The teacher's trays, kept with the teacher, and what was taken from them in this tab. Null until they are there. Where work is not graded, pens leave no points. */
export function useTrays(graded: boolean): TraysInHand | null {
  const client = useQueryClient();
  const { data: trays } = useQuery(traysQuery);
  const [taken, setTaken] = useState(() => sessionStorage.getItem(TAKEN) ?? '1');
  const [lent, setLent] = useState<{ key: string; before: string } | null>(null);
  const take = useCallback((key: string) => {
    setTaken(key);
    setLent(null);
    sessionStorage.setItem(TAKEN, key);
  }, []);
  const keep = useCallback(
    async (next: Trays) => {
      const before = client.getQueryData(traysQuery.queryKey);
      client.setQueryData(traysQuery.queryKey, next);
      try {
        await call('keepTrays', { body: next });
      } catch (error) {
        // The tray stays changed on this desk; only the next desk would not know.
        toast.error(`The tray is changed here, but could not be saved: ${sentenceOf(error)}`, {
          action: { label: 'As it was', onClick: () => client.setQueryData(traysQuery.queryKey, before) },
        });
      }
    },
    [client],
  );
  if (!trays) return null;
  const penAt = (key: string): Pen | null => {
    const pen = penOf(trays, key);
    return pen && !graded ? penWithoutPoints(pen) : pen;
  };
  return {
    graded,
    trays,
    taken,
    pen: penAt(taken) ?? HAND.pen,
    penAt,
    take,
    lend(key) {
      if (key === taken || !penOf(trays, key)) return;
      setLent({ key, before: taken });
      setTaken(key);
      sessionStorage.setItem(TAKEN, key);
    },
    giveBack(key, wasHeld) {
      if (lent?.key !== key) return;
      if (wasHeld) take(lent.before);
      else setLent(null);
    },
    keep,
  };
}
