import type {
  BatchAnswer,
  Change,
  CopyId,
  Digest,
  Gesture,
  HandInId,
  Subject,
  VoiceType,
} from '@jotmark/core';
import { type DBSchema, type IDBPDatabase, type IDBPTransaction, openDB, type StoreNames } from 'idb';
import { type LaneId, type Letter, readLetter } from './letter.ts';
import { readGestures, readKept } from './read-kept.ts';

/** The marking of a copy to which nothing came in is a sheet of its own, beside what its student writes in the copy. */
export type AloneId = `alone:${CopyId}`;
/** A teacher's own copy in a trial run. */
export type TrialId = `trial:${CopyId}`;

/** What changes belong to: the hand-in that a teacher marks, the marking of a copy to which nothing came in, or the copy that a student fills in. */
export type SheetId = HandInId | AloneId | CopyId | TrialId;

/** A letter that waits on this device until the server has committed it. */
export interface Kept {
  order?: number;
  readonly personId: string;
  readonly lane: LaneId;
  readonly letter: Letter;
}

export interface History {
  readonly undo: readonly Gesture[];
  readonly redo: readonly Gesture[];
}

/** A change of mine that met another: it stays here until I choose. */
export interface Clash {
  readonly sheetId: SheetId;
  readonly personId: string;
  readonly subject: Subject;
  readonly mine: Change;
  /** Why it could not be taken: made on something that no longer stands, or refused by the server with a reason. */
  readonly why:
    | 'conflict'
    | 'bad-input'
    | 'taken-back'
    | 'still-open'
    | NonNullable<BatchAnswer['results'][number]['reason']>;
}

/** Bytes that a letter names and that go before it. */
export interface KeptBytes {
  readonly type: VoiceType;
  readonly bytes: ArrayBuffer;
}

export interface DeviceSchema extends DBSchema {
  outbox: { key: number; value: Kept; indexes: { lane: [string, string] } };
  history: { key: [string, string]; value: History };
  clash: { key: [string, string, string]; value: Clash; indexes: { sheet: [string, string] } };
  bytes: { key: string; value: KeptBytes };
}

/** The database itself, in its newest form: for who reads all of it (see `left/`). */
export const openDevice = (name = 'jotmark'): Promise<IDBPDatabase<DeviceSchema>> =>
  openDB<DeviceSchema>(name, 4, {
    async upgrade(db, before, _after, tx) {
      const older = before ? await takeOut(db, tx) : NOTHING;
      const outbox = db.createObjectStore('outbox', { keyPath: 'order', autoIncrement: true });
      outbox.createIndex('lane', ['personId', 'lane']);
      const clash = db.createObjectStore('clash', { keyPath: ['personId', 'sheetId', 'subject'] });
      clash.createIndex('sheet', ['personId', 'sheetId']);
      if (!before) db.createObjectStore('history');
      db.createObjectStore('bytes');
      for (const kept of older.letters) await outbox.add(kept as Kept);
      for (const kept of older.clashes) await clash.add(kept as Clash);
    },
  });

/** What this browser keeps for itself. Every write is on disk before it counts as kept. */
export class Device {
  /** Somebody is leaving, and all of theirs is being locked away: what this page still holds in memory writes nothing any more. The page ends with it. */
  static sealed = false;
  readonly #db: IDBPDatabase<DeviceSchema>;

  private constructor(db: IDBPDatabase<DeviceSchema>) {
    this.#db = db;
  }

  static async open(name = 'jotmark'): Promise<Device> {
    return new Device(await openDevice(name));
  }

  async keep(rows: readonly Kept[]): Promise<void> {
    if (Device.sealed) return;
    const tx = this.#db.transaction('outbox', 'readwrite', { durability: 'strict' });
    for (const row of rows) tx.store.add(row);
    await tx.done;
  }

  /** What waits in one lane, in order. */
  async kept(personId: string, lane: LaneId): Promise<Letter[]> {
    const rows = await this.#db.getAllFromIndex('outbox', 'lane', [personId, lane]);
    return rows.sort((a, b) => a.order! - b.order!).flatMap((r) => readLetter(r.letter) ?? []);
  }

  /** The lanes of this person in which something waits. */
  async waiting(personId: string): Promise<LaneId[]> {
    const rows = await this.#db.getAll('outbox');
    return [...new Set(rows.filter((r) => r.personId === personId).map((r) => r.lane))];
  }

  async forget(personId: string, lane: LaneId, ids: ReadonlySet<string>): Promise<void> {
    const tx = this.#db.transaction('outbox', 'readwrite');
    for (
      let cursor = await tx.store.index('lane').openCursor([personId, lane]);
      cursor;
      cursor = await cursor.continue()
    )
      if (ids.has(cursor.value.letter.id)) cursor.delete();
    await tx.done;
  }

  async history(personId: string, sheetId: SheetId): Promise<History> {
    const kept = await this.#db.get('history', [personId, sheetId]);
    return { undo: readGestures(kept?.undo ?? []), redo: readGestures(kept?.redo ?? []) };
  }

  async keepHistory(personId: string, sheetId: SheetId, history: History): Promise<void> {
    if (Device.sealed) return;
    await this.#db.put('history', history, [personId, sheetId]);
  }

  async clashes(personId: string, sheetId: SheetId): Promise<Clash[]> {
    const kept = await this.#db.getAllFromIndex('clash', 'sheet', [personId, sheetId]);
    return kept.flatMap((clash) => {
      const mine = readKept(clash.mine);
      return mine ? [{ ...clash, mine }] : [];
    });
  }

  async keepClash(clash: Clash): Promise<void> {
    if (Device.sealed) return;
    await this.#db.put('clash', clash);
  }

  async settleClash(clash: Clash): Promise<void> {
    await this.#db.delete('clash', [clash.personId, clash.sheetId, clash.subject]);
  }

  /** Bytes that wait to be sent, by what they are called. */
  async keepBytes(file: Digest, kept: KeptBytes): Promise<void> {
    if (Device.sealed) return;
    await this.#db.put('bytes', kept, file);
  }

  async bytes(file: Digest): Promise<KeptBytes | undefined> {
    return this.#db.get('bytes', file);
  }

  async forgetBytes(file: Digest): Promise<void> {
    await this.#db.delete('bytes', file);
  }

  close(): void {
    this.#db.close();
  }
}

const NOTHING = { letters: [], clashes: [] } as { letters: object[]; clashes: object[] };

/**
 * What earlier forms of this database keep, as it is kept now: the first knew hand-ins only, the second had a place of its own for a copy
 * that waits to be handed in. Their stores are taken away.
 */
async function takeOut(
  db: IDBPDatabase<DeviceSchema>,
  tx: IDBPTransaction<DeviceSchema, StoreNames<DeviceSchema>[], 'versionchange'>,
): Promise<typeof NOTHING> {
  // biome-ignore lint/suspicious/noExplicitAny: what lies in older forms has their shape
  const all = async (name: string): Promise<any[]> =>
    db.objectStoreNames.contains(name as never) ? await tx.objectStore(name as never).getAll() : [];
  const [outbox, clashes, handIns] = [await all('outbox'), await all('clash'), await all('handIn')];
  for (const name of ['outbox', 'clash', 'handIn'])
    if (db.objectStoreNames.contains(name as never)) db.deleteObjectStore(name as never);
  const letters = outbox
    .sort((a, b) => a.order - b.order)
    .map(({ personId, handInId, sheetId, change }) => ({
      personId,
      lane: handInId ?? sheetId,
      letter: change,
    }));
  const waiting = handIns.map(({ personId, copyId, id, cover, claimedAt }) => ({
    personId,
    lane: copyId,
    letter: { type: 'hand-in', id, cover, claimedAt },
  }));
  return {
    letters: [...letters, ...waiting],
    clashes: clashes.map(({ handInId, sheetId, ...rest }) => ({ ...rest, sheetId: handInId ?? sheetId })),
  };
}
