import type { ClientRateLimitInfo, Options, Store } from 'express-rate-limit';
import { AttemptTable } from '../database/entities/index.ts';
import { find, remove } from '../database/write.ts';
import type { House } from '../house.ts';

/** Sign-in attempts counted in the database, so that all server processes count together and a restart forgets none. */
export class AttemptStore implements Store {
  readonly localKeys = false;
  readonly #house: House;
  #windowMs = 60_000;

  constructor(house: House) {
    this.#house = house;
  }

  init(options: Options): void {
    this.#windowMs = options.windowMs;
  }

  async increment(key: string): Promise<ClientRateLimitInfo> {
    const db = this.#house.db.manager;
    const name = key.slice(0, 190);
    const now = new Date(this.#house.now());
    const resetAt = new Date(now.getTime() + this.#windowMs);
    // Raw: counting up or beginning anew in one statement cannot be said otherwise.
    await db.query(
      `INSERT INTO attempt (name, hits, reset_at) VALUES (?, 1, ?)
       ON DUPLICATE KEY UPDATE hits = IF(reset_at <= ?, 1, hits + 1), reset_at = IF(reset_at <= ?, VALUES(reset_at), reset_at)`,
      [name, resetAt, now, now],
    );
    const row = await find(db, AttemptTable, { name });
    return { totalHits: row?.hits ?? 1, resetTime: new Date(row?.resetAt ?? resetAt) };
  }

  async decrement(key: string): Promise<void> {
    await this.#house.db.manager
      .createQueryBuilder()
      .update(AttemptTable)
      .set({ hits: () => 'GREATEST(0, hits - 1)' })
      .where('name = :name', { name: key.slice(0, 190) })
      .execute();
  }

  async resetKey(key: string): Promise<void> {
    await remove(this.#house.db.manager, AttemptTable, { name: key.slice(0, 190) });
  }
}
