import type { ChangeId, CopyId, HandInId, NoteMark, PersonId, Recording, Talk } from '@jotmark/core';
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';

/** What a recording is about: the whole copy, or a note, which may only be made by it. */
export type VoicePlace =
  | { readonly of: 'copy'; readonly was: Recording | null; readonly base: ChangeId | null }
  | { readonly of: 'note'; readonly note: NoteMark; readonly isNew: boolean; readonly base: ChangeId | null };

/** A recording from its first sound on: kept on this device until it stands in the marking. */
export interface Take {
  readonly id: string;
  readonly personId: PersonId;
  readonly copyId: CopyId;
  readonly handInId: HandInId;
  readonly place: VoicePlace;
  readonly startedAt: number;
  /** Sound alone, or a camera's clip: its parts are what the browser's own recorder gave. */
  readonly clip: string | null;
  /** What was drawn meanwhile, and what was heard in it: renewed as it goes on. */
  readonly talk: Talk;
  readonly captions: readonly { readonly at: number; readonly words: string }[];
}

/** A recording with all its parts, in order. */
export interface LeftTake {
  readonly take: Take;
  readonly parts: readonly ArrayBuffer[];
}

interface Schema extends DBSchema {
  take: { key: string; value: Take };
  part: { key: [string, number]; value: ArrayBuffer };
}

/** Recordings that are being made, in this browser's own database: a tab that dies leaves what was said until then. */
export class Takes {
  readonly #db: IDBPDatabase<Schema>;

  private constructor(db: IDBPDatabase<Schema>) {
    this.#db = db;
  }

  static async open(name = 'jotmark-voice'): Promise<Takes> {
    return new Takes(
      await openDB<Schema>(name, 1, {
        upgrade(db) {
          db.createObjectStore('take', { keyPath: 'id' });
          db.createObjectStore('part');
        },
      }),
    );
  }

  async keep(take: Take): Promise<void> {
    await this.#db.put('take', take);
  }

  /** Part `n` of a take: samples as 16-bit numbers, or bytes of a clip. */
  async keepPart(id: string, n: number, bytes: ArrayBuffer): Promise<void> {
    await this.#db.put('part', bytes, [id, n]);
  }

  async all(): Promise<Take[]> {
    return this.#db.getAll('take');
  }

  async find(id: string): Promise<Take | undefined> {
    return this.#db.get('take', id);
  }

  /** Its parts in order. */
  async parts(id: string): Promise<ArrayBuffer[]> {
    return this.#db.getAll('part', IDBKeyRange.bound([id, 0], [id, Number.MAX_SAFE_INTEGER]));
  }

  /** All that this person has left here, with its parts. */
  async leftBy(personId: PersonId): Promise<LeftTake[]> {
    const own = (await this.all()).filter((t) => t.personId === personId);
    return Promise.all(own.map(async (take) => ({ take, parts: await this.parts(take.id) })));
  }

  async takeIn({ take, parts }: LeftTake): Promise<void> {
    for (const [n, bytes] of parts.entries()) await this.keepPart(take.id, n, bytes);
    await this.keep(take);
  }

  close(): void {
    this.#db.close();
  }

  async forget(id: string): Promise<void> {
    const tx = this.#db.transaction(['take', 'part'], 'readwrite');
    tx.objectStore('take').delete(id);
    tx.objectStore('part').delete(IDBKeyRange.bound([id, 0], [id, Number.MAX_SAFE_INTEGER]));
    await tx.done;
  }
}
