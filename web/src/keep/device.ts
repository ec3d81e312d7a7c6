import type { Change, Gesture, HandInId, Subject } from '@jotmark/core';
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';

/** A change that waits on this device until the server has committed it. */
export interface Kept {
  order?: number;
  readonly personId: string;
  readonly handInId: HandInId;
  readonly change: Change;
}

export interface History {
  readonly undo: readonly Gesture[];
  readonly redo: readonly Gesture[];
}

/** A change of mine that met another: it stays here until I choose. */
export interface Clash {
  readonly handInId: HandInId;
  readonly personId: string;
  readonly subject: Subject;
  readonly mine: Change;
  /** Why it could not be taken: made on something that no longer stands, or refused by the server with a reason. */
  readonly why: 'conflict' | 'above-most' | 'ungraded' | 'handed-back' | 'no-such-page' | 'bad-input';
}

interface Schema extends DBSchema {
  outbox: { key: number; value: Kept; indexes: { handIn: [string, string] } };
  history: { key: [string, string]; value: History };
  clash: { key: [string, string, string]; value: Clash; indexes: { handIn: [string, string] } };
}

/** What this browser keeps for itself. Every write is on disk before it counts as kept. */
export class Device {
  readonly #db: IDBPDatabase<Schema>;

  private constructor(db: IDBPDatabase<Schema>) {
    this.#db = db;
  }

  static async open(name = 'jotmark'): Promise<Device> {
    return new Device(
      await openDB<Schema>(name, 1, {
        upgrade(db) {
          const outbox = db.createObjectStore('outbox', { keyPath: 'order', autoIncrement: true });
          outbox.createIndex('handIn', ['personId', 'handInId']);
          db.createObjectStore('history');
          const clash = db.createObjectStore('clash', { keyPath: ['personId', 'handInId', 'subject'] });
          clash.createIndex('handIn', ['personId', 'handInId']);
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
  async kept(personId: string, handInId: HandInId): Promise<Change[]> {
    const rows = await this.#db.getAllFromIndex('outbox', 'handIn', [personId, handInId]);
    return rows.sort((a, b) => a.order! - b.order!).map((r) => r.change);
  }

  /** The hand-ins of this person for which something waits. */
  async waiting(personId: string): Promise<HandInId[]> {
    const rows = await this.#db.getAll('outbox');
    return [...new Set(rows.filter((r) => r.personId === personId).map((r) => r.handInId))];
  }

  async forget(personId: string, handInId: HandInId, ids: ReadonlySet<string>): Promise<void> {
    const tx = this.#db.transaction('outbox', 'readwrite');
    for (
      let cursor = await tx.store.index('handIn').openCursor([personId, handInId]);
      cursor;
      cursor = await cursor.continue()
    )
      if (ids.has(cursor.value.change.id)) cursor.delete();
    await tx.done;
  }

  async history(personId: string, handInId: HandInId): Promise<History> {
    return (await this.#db.get('history', [personId, handInId])) ?? { undo: [], redo: [] };
  }

  async keepHistory(personId: string, handInId: HandInId, history: History): Promise<void> {
    await this.#db.put('history', history, [personId, handInId]);
  }

  async clashes(personId: string, handInId: HandInId): Promise<Clash[]> {
    return this.#db.getAllFromIndex('clash', 'handIn', [personId, handInId]);
  }

  async keepClash(clash: Clash): Promise<void> {
    await this.#db.put('clash', clash);
  }

  async settleClash(clash: Clash): Promise<void> {
    await this.#db.delete('clash', [clash.personId, clash.handInId, clash.subject]);
  }

  close(): void {
    this.#db.close();
  }
}
