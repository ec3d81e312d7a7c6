import type { Response } from 'express';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';
import { openLine } from './line.ts';

/** How often the event table is read while anybody listens. */
const POLL_MS = 300;
/**
 * Numbers may be given in another order than they are committed: so far back it is looked again. What was told before is
 * not told twice.
 */
const LOOK_BACK = 500;
/** Hints older than this are of no use to anybody. */
const KEPT_MS = 10 * 60_000;

interface Listener {
  readonly res: Response;
  hears(event: RawRow): boolean;
}

/** Tails the event table and passes hints on over server-sent events. Every server process has one of its own. */
export class Hub {
  readonly #house: House;
  readonly #listeners = new Set<Listener>();
  readonly #told = new Set<number>();
  #last = 0;
  #clock: NodeJS.Timeout | null = null;
  #closed = false;
  #swept = 0;

  constructor(house: House) {
    this.#house = house;
  }

  /**
   * Keeps the line open until the browser goes; `gone` hears when it does. What is committed after the line was answered
   * is told: it is answered only when it is known up to where all is old.
   */
  async listen(res: Response, hears: Listener['hears'], gone: () => void = () => {}): Promise<void> {
    if (!this.#clock) await this.#begin();
    const listener = { res, hears };
    openLine(res, () => {
      this.#listeners.delete(listener);
      gone();
    });
    this.#listeners.add(listener);
    this.#start();
  }

  close(): void {
    this.#closed = true;
    if (this.#clock) clearTimeout(this.#clock);
    for (const { res } of this.#listeners) res.end();
  }

  #start(): void {
    if (this.#clock || this.#closed) return;
    const turn = async () => {
      try {
        await this.#tail();
      } catch (error) {
        this.#house.log.warn({ err: error }, 'the event table could not be read');
      }
      this.#clock = this.#listeners.size && !this.#closed ? setTimeout(turn, POLL_MS) : null;
    };
    this.#clock = setTimeout(turn, POLL_MS);
  }

  /** Everything so far is old. */
  async #begin(): Promise<void> {
    const { db } = this.#house;
    const [row] = await db.query('SELECT COALESCE(MAX(seq), 0) AS seq FROM event');
    this.#last = Number(row.seq);
    this.#told.clear();
    const old: RawRow[] = await db.query('SELECT seq FROM event WHERE seq > ?', [this.#last - LOOK_BACK]);
    for (const event of old) this.#told.add(Number(event.seq));
  }

  async #tail(): Promise<void> {
    const { db } = this.#house;
    const events: RawRow[] = await db.query(
      'SELECT seq, assignment_id, copy_id, kind FROM event WHERE seq > ? ORDER BY seq LIMIT 5000',
      [this.#last - LOOK_BACK],
    );
    for (const event of events) {
      const seq = Number(event.seq);
      if (this.#told.has(seq)) continue;
      this.#told.add(seq);
      if (seq > this.#last) this.#last = seq;
      for (const { res, hears } of this.#listeners)
        if (hears(event))
          res.write(`data: ${JSON.stringify({ copyId: event.copy_id, kind: event.kind })}\n\n`);
    }
    for (const seq of this.#told) if (seq < this.#last - LOOK_BACK) this.#told.delete(seq);
    await this.#sweep();
  }

  async #sweep(): Promise<void> {
    const now = this.#house.now();
    if (now - this.#swept < 60_000) return;
    this.#swept = now;
    await this.#house.db.query('DELETE FROM event WHERE at < ? LIMIT 5000', [new Date(now - KEPT_MS)]);
  }
}
