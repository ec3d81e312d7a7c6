import { type Change, type ChangeId, makeId, type PersonId } from '@jotmark/core';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { Device, type SheetId } from './device.ts';
import { isLastWords } from './last-words.ts';
import { type KeeperView, type KeptState, type Post, SheetKeeper } from './sheet-keeper.ts';

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

/** How often it is asked what others did. Between tabs of one browser a word goes at once. */
const ASK_MS = 5000;

interface Wanted {
  readonly sheetId: SheetId;
  readonly personId: PersonId;
  /** Where it begins; asked once. */
  state(): KeptState;
  readonly post: Post;
  /** Hears what was committed, also after the sheet was left. */
  committed(changes: readonly Change[]): void;
}

/** A part of what a keeper shows; only when that part is another is anything rendered. */
export function useKept<T>(keeper: SheetKeeper, part: (view: KeeperView) => T): T {
  return useSyncExternalStore(keeper.subscribe, () => part(keeper.view));
}

/** The keeper of one sheet in this tab. Null for a moment at the first one, while the browser's database opens. */
export function useSheetKeeper(wanted: Wanted): SheetKeeper | null {
  const channel = useRef<BroadcastChannel | null>(null);
  const { sheetId, personId, state, post } = wanted;
  const begin = (kept: Device | null): SheetKeeper =>
    SheetKeeper.begin(
      {
        sheetId,
        personId,
        device: kept,
        post,
        newId: () => newId<ChangeId>(),
        later: (work, ms) => void setTimeout(work, ms),
        committed(changes) {
          channel.current?.postMessage('committed');
          wanted.committed(changes);
        },
      },
      state(),
    );
  const [keeper, setKeeper] = useState(() => (deviceNow === undefined ? null : begin(deviceNow)));

  // A sheet is the same for as long as it is shown: another one is another component.
  useEffect(() => {
    if (!keeper) {
      let gone = false;
      openDevice().then((kept) => !gone && setKeeper(begin(kept)));
      return () => {
        gone = true;
      };
    }
    const others = new BroadcastChannel(`jotmark-${sheetId}`);
    channel.current = others;
    keeper.catchUp();
    const ask = () => document.visibilityState === 'visible' && keeper.catchUp();
    others.onmessage = () => keeper.catchUp();
    const clock = setInterval(ask, ASK_MS);
    const back = () => keeper.retryNow();
    window.addEventListener('online', back);
    window.addEventListener('focus', ask);
    const leave = () => keeper.leave();
    window.addEventListener('pagehide', leave);
    const left = (e: StorageEvent) => isLastWords(e, personId, sheetId) && keeper.takeOver();
    window.addEventListener('storage', left);
    return () => {
      channel.current = null;
      others.close();
      clearInterval(clock);
      window.removeEventListener('online', back);
      window.removeEventListener('focus', ask);
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('storage', left);
    };
  }, [sheetId, personId, keeper]);
  return keeper;
}
