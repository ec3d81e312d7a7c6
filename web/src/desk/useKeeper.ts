import { type ChangeId, type Desk, makeId, type PersonId } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { call } from '../api/call.ts';
import { Device } from '../keep/device.ts';
import { type KeeperView, MarkingKeeper, type Post } from '../keep/marking-keeper.ts';

export function newId<T extends string>(): T {
  return makeId(Date.now(), crypto.getRandomValues(new Uint8Array(10))) as T;
}

/** The browser's own database, or null where it keeps nothing (private windows of some browsers, a full disk). */
let device: Promise<Device | null> | null = null;
let deviceNow: Device | null | undefined;
export function openDevice(): Promise<Device | null> {
  device ??= Device.open()
    .catch(() => null)
    .then((opened) => {
      deviceNow = opened;
      return opened;
    });
  return device;
}

const post: Post = {
  send: (handInId, changes) => call('sendChanges', { params: { handInId }, body: { changes: [...changes] } }),
  since: (handInId, after) => call('changesSince', { params: { handInId }, query: { after } }),
};

/** How often a desk asks for what others did. Between tabs of one browser a word goes at once. */
const ASK_MS = 5000;

/** The keeper of the marking on this desk, and what it shows. Null for a moment at the first desk, while the browser's database opens. */
export function useKeeper(
  desk: Desk,
  personId: PersonId,
): { keeper: MarkingKeeper; view: KeeperView } | null {
  const client = useQueryClient();
  const channel = useRef<BroadcastChannel | null>(null);
  const handInId = desk.handIn.id;
  const begin = (kept: Device | null): MarkingKeeper => {
    let begun = desk.marking.seq > 0;
    return MarkingKeeper.begin(
      {
        handInId,
        personId,
        device: kept,
        post,
        newId: () => newId<ChangeId>(),
        later: (work, ms) => void setTimeout(work, ms),
        committed(changes) {
          channel.current?.postMessage('committed');
          // What the pile shows of a copy: whether it was begun, its grade, whether it is marked. Heard also after the desk was left.
          if (begun && !changes.some((c) => c.type === 'write')) return;
          begun = true;
          client.invalidateQueries({ queryKey: ['pile', desk.assignment.id] });
          client.invalidateQueries({ queryKey: ['today'] });
        },
      },
      desk.marking,
    );
  };
  const [keeper, setKeeper] = useState(() => (deviceNow === undefined ? null : begin(deviceNow)));

  // A desk is one hand-in for as long as it is shown: another one is another desk.
  useEffect(() => {
    if (!keeper) {
      let gone = false;
      openDevice().then((kept) => !gone && setKeeper(begin(kept)));
      return () => {
        gone = true;
      };
    }
    const others = new BroadcastChannel(`jotmark-${handInId}`);
    channel.current = others;
    keeper.catchUp();
    const ask = () => document.visibilityState === 'visible' && keeper.catchUp();
    others.onmessage = () => keeper.catchUp();
    const clock = setInterval(ask, ASK_MS);
    const back = () => keeper.retryNow();
    window.addEventListener('online', back);
    window.addEventListener('focus', ask);
    return () => {
      channel.current = null;
      others.close();
      clearInterval(clock);
      window.removeEventListener('online', back);
      window.removeEventListener('focus', ask);
    };
  }, [handInId, keeper]);
  const view = useSyncExternalStore(
    (changed) => keeper?.subscribe(changed) ?? (() => {}),
    () => keeper?.view ?? null,
  );
  return keeper && view ? { keeper, view } : null;
}

/** Sends what earlier sittings left on this device, for copies that are not open now. */
export async function sendLeftOvers(personId: PersonId): Promise<void> {
  const kept = await openDevice();
  if (!kept) return;
  for (const handInId of await kept.waiting(personId)) {
    try {
      const { changes } = await call('changesSince', { params: { handInId }, query: { after: 0 } });
      const known = new Set(changes.map((c) => c.id as string));
      await kept.forget(personId, handInId, known);
      const rest = await kept.kept(personId, handInId);
      if (rest.length === 0) continue;
      const answer = await call('sendChanges', {
        params: { handInId },
        body: { changes: rest.slice(0, 200) },
      });
      // Only what was taken goes; what clashed waits until its copy is opened and the teacher can choose.
      const taken = answer.results
        .filter((r) => r.outcome === 'applied' || r.outcome === 'already')
        .map((r) => r.id as string);
      await kept.forget(personId, handInId, new Set(taken));
    } catch {
      // No network, or no longer allowed: it stays on this device.
    }
  }
}
