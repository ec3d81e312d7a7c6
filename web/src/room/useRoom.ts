import type { AssignmentId, CopyId, Room } from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { addressOf, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { useLive } from '../live/useLive.ts';

/** Hints that come this close together are asked about in one go. */
const GATHER_MS = 200;
const MOST_AT_ONCE = 100;

/** The room of an assignment, kept as it is this moment: hints say which copies changed, and only those are asked for. */
export function useRoom(assignmentId: AssignmentId | null) {
  const client = useQueryClient();
  const key = keys.room(assignmentId ?? undefined);
  const room = useQuery({
    queryKey: key,
    queryFn: () => call('room', { params: { assignmentId: assignmentId! }, query: {} }),
    enabled: assignmentId !== null,
    // Signs of life make no hints of their own.
    refetchInterval: 10_000,
  });
  const asked = useRef(new Set<CopyId>());
  const clock = useRef(0);
  const fetchAsked = async () => {
    clock.current = 0;
    const copies = [...asked.current].slice(0, MOST_AT_ONCE);
    for (const id of copies) asked.current.delete(id);
    if (copies.length === 0) return;
    try {
      const news = await call('room', {
        params: { assignmentId: assignmentId! },
        query: { copies: copies.join(',') as never },
      });
      client.setQueryData(key, (old: Room | undefined) => old && merge(old, news));
    } catch {
      // The line says that it broke; everything is asked for when it is back.
    }
    if (asked.current.size) clock.current ||= window.setTimeout(fetchAsked, GATHER_MS);
  };
  const line = useLive(
    assignmentId && addressOf('roomLive', { assignmentId }),
    ({ copyId }) => {
      asked.current.add(copyId as CopyId);
      clock.current ||= window.setTimeout(fetchAsked, GATHER_MS);
    },
    () => assignmentId && tell(client, 'roomChanged', { assignmentId }),
  );
  useEffect(() => () => clearTimeout(clock.current), []);
  return { room, line, now: useServerClock(room.data?.now ?? null) };
}

function merge(old: Room, news: Room): Room {
  const byId = new Map(news.rows.map((r) => [r.copyId, r]));
  return { ...old, now: news.now, rows: old.rows.map((r) => byId.get(r.copyId) ?? r) };
}

/** The server's time, going on by the second; a wrong clock on this device does not matter. */
function useServerClock(told: number | null): number {
  const offset = useRef(0);
  const [, tick] = useState(0);
  const last = useRef<number | null>(null);
  if (told !== null && told !== last.current) {
    last.current = told;
    offset.current = told - performance.now();
  }
  useEffect(() => {
    const clock = setInterval(() => tick((n) => n + 1), 1000);
    return () => clearInterval(clock);
  }, []);
  return performance.now() + offset.current;
}
