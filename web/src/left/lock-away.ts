import { base64Of, bytesOf, type PersonId } from '@jotmark/core';
import { type DBSchema, openDB } from 'idb';
import { LOCKED } from '../frame/locked.ts';
import { Device, openDevice } from '../outbox/device.ts';
import { outbox } from '../outbox/outbox.ts';
import { type LeftTake, Takes } from '../voice/takes.ts';
import { type Belongings, belongingsOf, forgetAll, takeIn } from './belongings.ts';

/** What of the browser's small store says how this device is used, and nothing of a person. */
const OF_DEVICE =
  /^jotmark\.(fold\.|pile-form$|voice-speed$|writes-down$|desk|first-copy\.|book-hidden\.|locked$)/;
/** What can be had again from the server, or is of no use to anybody later. */
const TO_HAVE_AGAIN = /^jotmark\.(bank\.|said-before$|heard\.|takes$|pile\.|across\.|pen$)/;

interface Schema extends DBSchema {
  locked: { key: string; value: { readonly iv: Uint8Array; readonly data: ArrayBuffer } };
}
const openLocked = () =>
  openDB<Schema>('jotmark-locked', 1, { upgrade: (db) => void db.createObjectStore('locked') });

/** All that one person leaves in this browser. */
interface Left {
  readonly belongings: Belongings;
  readonly takes: readonly LeftTake[];
  /** Words that were typed and not sent. */
  readonly drafts: readonly (readonly [key: string, value: string])[];
}

/** What became of it: nothing was left, it is locked, or it could not be and lies open here. */
export type LeftHow = 'nothing' | 'locked' | 'open';

/**
 * After signing out: what this person kept in this browser is taken away. Where something of it was not sent yet it is kept, locked with a key that the server gives to
 * them alone (AES-GCM), until they sign in here again. Browsers lock nothing on a page that did not come over TLS: there it lies open, and that is said.
 */
export async function lockAway(personId: PersonId, key: string): Promise<LeftHow> {
  // What is on its way to the database is left where it is found below, then nothing more is written.
  outbox.leave();
  Device.sealed = true;
  const device = await openDevice();
  const takes = await Takes.open();
  const left: Left = {
    belongings: await belongingsOf(device, personId),
    takes: await takes.leftBy(personId),
    drafts: Object.entries({ ...localStorage }).filter(
      ([name]) => name.startsWith('jotmark.') && !OF_DEVICE.test(name) && !TO_HAVE_AGAIN.test(name),
    ),
  };
  const { letters, clashes } = left.belongings;
  const waits = letters.length + clashes.length + left.takes.length + left.drafts.length > 0;
  if (waits && !globalThis.crypto?.subtle) return 'open';
  if (waits) {
    const iv = crypto.getRandomValues(new Uint8Array(12));
    const data = await crypto.subtle.encrypt(
      { name: 'AES-GCM', iv },
      await keyOf(key),
      new TextEncoder().encode(JSON.stringify(left, asText)),
    );
    const db = await openLocked();
    const tx = db.transaction('locked', 'readwrite', { durability: 'strict' });
    await tx.store.put({ iv, data }, personId);
    await tx.done;
    db.close();
  }
  // It is locked: only now the open form goes.
  await forgetAll(device, personId);
  for (const { take } of left.takes) await takes.forget(take.id);
  for (const name of Object.keys({ ...localStorage }))
    if (!OF_DEVICE.test(name)) localStorage.removeItem(name);
  sessionStorage.clear();
  device.close();
  takes.close();
  if (waits) localStorage.setItem(LOCKED, JSON.stringify([...new Set([...lockedFor(), personId])]));
  return waits ? 'locked' : 'nothing';
}

/** They have signed in here again: what was locked lies open to them, and is sent as ever. What cannot be unlocked stays. */
export async function unlock(personId: PersonId, key: string): Promise<void> {
  const db = await openLocked();
  try {
    const kept = await db.get('locked', personId);
    if (kept) {
      const plain = await crypto.subtle.decrypt(
        { name: 'AES-GCM', iv: kept.iv as Uint8Array<ArrayBuffer> },
        await keyOf(key),
        kept.data,
      );
      const left = JSON.parse(new TextDecoder().decode(plain), fromText) as Left;
      const device = await openDevice();
      await takeIn(device, left.belongings);
      device.close();
      const takes = await Takes.open();
      for (const take of left.takes) await takes.takeIn(take);
      takes.close();
      for (const [name, value] of left.drafts) localStorage.setItem(name, value);
      if (left.takes.length) localStorage.setItem('jotmark.takes', 'yes');
      await db.delete('locked', personId);
    }
    const others = lockedFor().filter((id) => id !== personId);
    if (others.length) localStorage.setItem(LOCKED, JSON.stringify(others));
    else localStorage.removeItem(LOCKED);
  } finally {
    db.close();
  }
}

function lockedFor(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(LOCKED) ?? '[]');
    return Array.isArray(kept) ? kept.filter((id) => typeof id === 'string') : [];
  } catch {
    return [];
  }
}

const keyOf = (key: string) =>
  crypto.subtle.importKey('raw', bytesOf(key) as Uint8Array<ArrayBuffer>, 'AES-GCM', false, [
    'encrypt',
    'decrypt',
  ]);

/** Bytes in JSON. */
const asText = (_: string, value: unknown): unknown =>
  isBuffer(value) ? { $bytes: base64Of(new Uint8Array(value)) } : value;

/** By its name: what a browser's database gives may come from another of its realms. */
const isBuffer = (value: unknown): value is ArrayBuffer =>
  Object.prototype.toString.call(value) === '[object ArrayBuffer]';

const fromText = (_: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && '$bytes' in value
    ? bytesOf(String(value.$bytes)).slice().buffer
    : value;
