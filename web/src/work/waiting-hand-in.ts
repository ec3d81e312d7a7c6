import { BATCH_LIMIT, type CopyChange, type CopyId, type PersonId, type Work } from '@jotmark/core';
import { CallFailed, call } from '../api/call.ts';
import type { WaitingHandIn } from '../outbox/device.ts';
import { openDevice } from '../outbox/useSheetKeeper.ts';

/** What handing in came to: it is with the teacher, waits for the network, or was refused. */
export type HandedIn =
  | { readonly state: 'in'; readonly work: Work }
  | { readonly state: 'waiting' }
  | { readonly state: 'refused'; readonly error: unknown };

const away = (error: unknown) =>
  error instanceof CallFailed && (error.code === 'offline' || error.code === 'database-away');

/**
 * Hands in now, or keeps the hand-in on this device until there is a network. The id makes it count once, however often
 * it is sent; the device's time goes along only when it had to wait.
 */
export async function handInOrWait(wish: WaitingHandIn, waitedAlready: boolean): Promise<HandedIn> {
  const device = await openDevice();
  if (!waitedAlready) await device?.keepHandIn(wish);
  try {
    const work = await call('handIn', {
      params: { copyId: wish.copyId },
      body: { id: wish.id, cover: wish.cover, claimedAt: waitedAlready ? wish.claimedAt : null },
    });
    await device?.forgetHandIn(wish);
    return { state: 'in', work };
  } catch (error) {
    if (away(error) && device) return { state: 'waiting' };
    await device?.forgetHandIn(wish);
    return { state: 'refused', error };
  }
}

/** Keeps a hand-in on this device; it is sent behind what was written. */
export async function keepForLater(wish: WaitingHandIn): Promise<void> {
  await (await openDevice())?.keepHandIn(wish);
}

export async function waitingHandIn(personId: PersonId, copyId: CopyId): Promise<WaitingHandIn | null> {
  const all = (await (await openDevice())?.waitingHandIns(personId)) ?? [];
  return all.find((w) => w.copyId === copyId) ?? null;
}

/**
 * Sends what earlier sittings left on this device for copies that are not open: first what was written, then the
 * hand-in that belongs behind it. Gives the copies handed in.
 */
export async function sendLeftWork(personId: PersonId): Promise<CopyId[]> {
  const device = await openDevice();
  if (!device) return [];
  const handedIn: CopyId[] = [];
  const waiting = await device.waitingHandIns(personId);
  const written = (await device.waiting(personId)) as CopyId[];
  for (const copyId of new Set([...written, ...waiting.map((w) => w.copyId)])) {
    try {
      await sendKept(personId, copyId);
      const wish = waiting.find((w) => w.copyId === copyId);
      const left = await device.kept(personId, copyId);
      if (!wish || left.length) continue;
      if ((await handInOrWait(wish, true)).state === 'in') handedIn.push(copyId);
    } catch {
      // No network: it stays on this device.
    }
  }
  return handedIn;
}

async function sendKept(personId: PersonId, copyId: CopyId): Promise<void> {
  const device = (await openDevice())!;
  for (;;) {
    const rest = (await device.kept(personId, copyId)).slice(0, BATCH_LIMIT);
    if (rest.length === 0) return;
    const answer = await call('sendCopyChanges', {
      params: { copyId },
      body: { changes: rest as CopyChange[] },
    });
    const taken = answer.results
      .filter((r) => r.outcome === 'applied' || r.outcome === 'already')
      .map((r) => r.id as string);
    // What clashed waits until the copy is opened and the student can choose.
    if (taken.length === 0) return;
    await device.forget(personId, copyId, new Set(taken));
  }
}
