import type { ClientRateLimitInfo, Options, Store } from 'express-rate-limit';
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

  async increment(name: string): Promise<ClientRateLimitInfo> {
    const now = new Date(this.#house.now());
    const reset = new Date(now.getTime() + this.#windowMs);
    await this.#house.db.query(
      `INSERT INTO attempt (name, hits, reset_at) VALUES (?, 1, ?)
       ON DUPLICATE KEY UPDATE hits = IF(reset_at <= ?, 1, hits + 1), reset_at = IF(reset_at <= ?, VALUES(reset_at), reset_at)`,
      [name.slice(0, 190), reset, now, now],
    );
    const [row] = await this.#house.db.query('SELECT hits, reset_at FROM attempt WHERE name = ?', [
      name.slice(0, 190),
    ]);
    return { totalHits: row.hits, resetTime: row.reset_at };
  }

  async decrement(name: string): Promise<void> {
    await this.#house.db.query('UPDATE attempt SET hits = GREATEST(0, hits - 1) WHERE name = ?', [
      name.slice(0, 190),
    ]);
  }

  async resetKey(name: string): Promise<void> {
    await this.#house.db.query('DELETE FROM attempt WHERE name = ?', [name.slice(0, 190)]);
  }
}
