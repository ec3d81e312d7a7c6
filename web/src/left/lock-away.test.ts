import 'fake-indexeddb/auto';
import type { CopyId, Digest, HandInId, PersonId } from '@jotmark/core';
import { IDBFactory } from 'fake-indexeddb';
import { beforeEach, describe, expect, test } from 'vitest';
import { hasLocked, LOCKED } from '../frame/locked.ts';
import { Device, openDevice } from '../outbox/device.ts';
import { Takes } from '../voice/takes.ts';
import { belongingsOf } from './belongings.ts';
import { lockAway, unlock } from './lock-away.ts';

const id = (n: number) => `01a21263-aab7-77a6-ad1f-cbff6ce69f${String(n).padStart(2, '0')}`;
const ADA = id(1) as PersonId;
const BEN = id(2) as PersonId;
const SHEET = id(3) as HandInId;
const KEY = btoa(String.fromCharCode(...Array.from({ length: 32 }, (_, i) => i)));
const OTHER_KEY = btoa('x'.repeat(32));
const SAID = 'a secret word of Ada';

beforeEach(() => {
  Device.sealed = false;
  localStorage.clear();
  globalThis.indexedDB = new IDBFactory();
});

const letter = (words: string) => ({ type: 'word', id: id(9), words, at: 1 }) as never;

async function write(personId: PersonId, words: string): Promise<void> {
  const device = await Device.open();
  await device.keep([{ personId, lane: `words:${id(4)}` as never, letter: letter(words) }]);
  await device.keepBytes(
    'ab'.repeat(32) as Digest,
    { type: 'audio/webm', bytes: new Uint8Array([1, 2, 3]).buffer } as never,
  );
  device.close();
}

/** All that can be read in this browser, whoever asks. */
async function readable(): Promise<string> {
  const out: string[] = [JSON.stringify({ ...localStorage })];
  for (const { name } of await indexedDB.databases())
    await new Promise<void>((resolve) => {
      const open = indexedDB.open(name!);
      open.onsuccess = () => {
        const db = open.result;
        const names = [...db.objectStoreNames];
        if (names.length === 0) return resolve();
        const tx = db.transaction(names);
        for (const store of names) {
          const all = tx.objectStore(store).getAll();
          all.onsuccess = () =>
            out.push(
              JSON.stringify(all.result, (_, v) =>
                v instanceof ArrayBuffer ? new TextDecoder('latin1').decode(v) : v,
              ),
            );
        }
        tx.oncomplete = () => {
          db.close();
          resolve();
        };
      };
    });
  return out.join('\n');
}

describe('what somebody leaves in a browser', () => {
  test('is gone where nothing waits; how the device is used stays', async () => {
    localStorage.setItem('jotmark.fold.pdf', 'open');
    localStorage.setItem(`jotmark.bank.${ADA}`, SAID);
    localStorage.setItem('jotmark.said-before', SAID);
    const device = await Device.open();
    await device.keepHistory(ADA, SHEET, { undo: [[{ id: SAID } as never]], redo: [] });
    device.close();
    expect(await lockAway(ADA, KEY)).toBe('nothing');
    expect(await readable()).not.toContain(SAID);
    expect({ ...localStorage }).toEqual({ 'jotmark.fold.pdf': 'open' });
  });

  test('is locked where something waits: nobody reads it, and it lies there again for who left it', async () => {
    await write(ADA, SAID);
    localStorage.setItem(`jotmark.report.${id(5)}`, SAID);
    expect(await readable()).toContain(SAID);
    expect(await lockAway(ADA, KEY)).toBe('locked');
    expect(await readable()).not.toContain(SAID);
    expect([hasLocked(), hasLocked(ADA), hasLocked(BEN)]).toEqual([true, true, false]);
    await unlock(ADA, KEY);
    expect(hasLocked()).toBe(false);
    const device = await openDevice();
    const { letters, bytes } = await belongingsOf(device, ADA);
    expect(letters).toMatchObject([{ personId: ADA, letter: { words: SAID } }]);
    expect(new Uint8Array(bytes[0]![1].bytes)).toEqual(new Uint8Array([1, 2, 3]));
    expect(localStorage.getItem(`jotmark.report.${id(5)}`)).toBe(SAID);
    device.close();
  });

  test('what the page still holds in memory writes nothing behind the lock', async () => {
    await write(ADA, SAID);
    expect(await lockAway(ADA, KEY)).toBe('locked');
    await write(ADA, 'a late word of Ada');
    expect(await readable()).not.toContain('word of Ada');
  });

  test('another’s key opens nothing, and what is locked stays for who has the right one', async () => {
    await write(ADA, SAID);
    await lockAway(ADA, KEY);
    await expect(unlock(ADA, OTHER_KEY)).rejects.toThrow();
    expect(hasLocked(ADA)).toBe(true);
    await unlock(ADA, KEY);
    expect(await readable()).toContain(SAID);
  });

  test('two share a browser: each finds their own, also when both left something', async () => {
    await write(ADA, SAID);
    await lockAway(ADA, KEY);
    // The page that locked it has ended.
    Device.sealed = false;
    await write(BEN, 'what Ben wrote');
    await lockAway(BEN, OTHER_KEY);
    expect(JSON.parse(localStorage.getItem(LOCKED)!)).toEqual([ADA, BEN]);
    await unlock(BEN, OTHER_KEY);
    const all = await readable();
    expect(all).toContain('what Ben wrote');
    expect(all).not.toContain(SAID);
    expect(hasLocked(ADA)).toBe(true);
  });

  test('a recording that was cut off is locked with its sound', async () => {
    const takes = await Takes.open();
    const take = {
      id: id(7),
      personId: ADA,
      copyId: id(4) as CopyId,
      handInId: SHEET,
      captions: [{ at: 0, words: SAID }],
    };
    await takes.keep(take as never);
    await takes.keepPart(take.id, 0, new Uint8Array([9, 8]).buffer);
    takes.close();
    expect(await lockAway(ADA, KEY)).toBe('locked');
    expect(await readable()).not.toContain(SAID);
    await unlock(ADA, KEY);
    const again = await Takes.open();
    expect(await again.all()).toMatchObject([{ id: take.id }]);
    expect((await again.parts(take.id)).map((p) => [...new Uint8Array(p)])).toEqual([[9, 8]]);
    again.close();
  });
});
