import type { BatchAnswer, Change, CopyId, Gesture, HandInId, Subject } from '@jotmark/core';
import { type DBSchema, type IDBPDatabase, type IDBPTransaction, openDB, type StoreNames } from 'idb';
import { readAllKept, readGestures, readKept } from './read-kept.ts';

/** What changes belong to: the hand-in that a teacher marks, or the copy that a student fills in. */
export type SheetId = HandInId | CopyId;

/** A hand-in that waits for the network: the copy as it stands on this device when it goes. */
export interface WaitingHandIn {
  readonly personId: string;
  readonly copyId: CopyId;
  readonly id: HandInId;
  readonly cover: string;
  readonly claimedAt: number;
}

/** A change that waits on this device until the server has committed it. */
export interface Kept {
  order?: number;
  readonly personId: string;
  readonly sheetId: SheetId;
  readonly change: Change;
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
    | NonNullable<BatchAnswer['results'][number]['reason']>;
}

interface Schema extends DBSchema {
  outbox: { key: number; value: Kept; indexes: { sheet: [string, string] } };
  history: { key: [string, string]; value: History };
  clash: { key: [string, string, string]; value: Clash; indexes: { sheet: [string, string] } };
  handIn: { key: [string, string]; value: WaitingHandIn };
}

const STORES = ['outbox', 'clash'] as const;

/** What this browser keeps for itself. Every write is on disk before it counts as kept. */
export class Device {
  readonly #db: IDBPDatabase<Schema>;

  private constructor(db: IDBPDatabase<Schema>) {
    this.#db = db;
  }

  static async open(name = 'jotmark'): Promise<Device> {
    return new Device(
      await openDB<Schema>(name, 2, {
        async upgrade(db, before, _after, tx) {
          if (before >= 1) return toSecond(db, tx);
          const outbox = db.createObjectStore('outbox', { keyPath: 'order', autoIncrement: true });
          outbox.createIndex('sheet', ['personId', 'sheetId']);
          db.createObjectStore('history');
          const clash = db.createObjectStore('clash', { keyPath: ['personId', 'sheetId', 'subject'] });
          clash.createIndex('sheet', ['personId', 'sheetId']);
          db.createObjectStore('handIn', { keyPath: ['personId', 'copyId'] });
        },
      }),
    );
  }

  async keep(rows: readonly Kept[]): Promise<void> {
    const tx = this.#db.transaction('outbox', 'readwrite', { durability: 'strict' });
    for (const row of rows) tx.store.add(row);
    await tx.done;
  }

  /** What waits for one hand-in, in order. */
  async kept(personId: string, sheetId: SheetId): Promise<Change[]> {
    const rows = await this.#db.getAllFromIndex('outbox', 'sheet', [personId, sheetId]);
    return readAllKept(rows.sort((a, b) => a.order! - b.order!).map((r) => r.change));
  }

  /** The hand-ins of this person for which something waits. */
  async waiting(personId: string): Promise<SheetId[]> {
    const rows = await this.#db.getAll('outbox');
    return [...new Set(rows.filter((r) => r.personId === personId).map((r) => r.sheetId))];
  }

  async forget(personId: string, sheetId: SheetId, ids: ReadonlySet<string>): Promise<void> {
    const tx = this.#db.transaction('outbox', 'readwrite');
    for (
      let cursor = await tx.store.index('sheet').openCursor([personId, sheetId]);
      cursor;
      cursor = await cursor.continue()
    )
      if (ids.has(cursor.value.change.id)) cursor.delete();
    await tx.done;
  }

  async history(personId: string, sheetId: SheetId): Promise<History> {
    const kept = await this.#db.get('history', [personId, sheetId]);
    return { undo: readGestures(kept?.undo ?? []), redo: readGestures(kept?.redo ?? []) };
  }

  async keepHistory(personId: string, sheetId: SheetId, history: History): Promise<void> {
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
    await this.#db.put('clash', clash);
  }

  async settleClash(clash: Clash): Promise<void> {
    await this.#db.delete('clash', [clash.personId, clash.sheetId, clash.subject]);
  }

  async keepHandIn(waiting: WaitingHandIn): Promise<void> {
    await this.#db.put('handIn', waiting);
  }

  /** The hand-ins of this person that wait for the network. */
  async waitingHandIns(personId: string): Promise<WaitingHandIn[]> {
    return (await this.#db.getAll('handIn')).filter((w) => w.personId === personId);
  }

  async forgetHandIn(waiting: WaitingHandIn): Promise<void> {
    await this.#db.delete('handIn', [waiting.personId, waiting.copyId]);
  }

  close(): void {
    this.#db.close();
  }
}

/**
 * In its first form the database knew hand-ins only. What waits in it is taken along, under the name that holds for copies too.
 */
async function toSecond(
  db: IDBPDatabase<Schema>,
  tx: IDBPTransaction<Schema, StoreNames<Schema>[], 'versionchange'>,
): Promise<void> {
  for (const name of STORES) {
    const rows = (await tx.objectStore(name).getAll()) as unknown as (Kept &
      Clash & { handInId?: SheetId })[];
    db.deleteObjectStore(name);
    const store = db.createObjectStore(
      name,
      name === 'outbox'
        ? { keyPath: 'order', autoIncrement: true }
        : { keyPath: ['personId', 'sheetId', 'subject'] },
    );
    store.createIndex('sheet', ['personId', 'sheetId']);
    for (const { handInId, ...row } of rows)
      await store.add({ ...row, sheetId: handInId ?? row.sheetId } as never);
  }
  db.createObjectStore('handIn', { keyPath: ['personId', 'copyId'] });
}
