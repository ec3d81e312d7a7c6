import type { AssignmentId, CopyId } from '@jotmark/core';
import type { Response } from 'express';
import { LessThan } from 'typeorm';
import { EventTable, HintKind } from '../database/entities/index.ts';
import { as, col, pickOne, type RowOf, readRows } from '../database/pick.ts';
import type { House } from '../house.ts';
import { openLine } from './line.ts';

/** How often the event table is read while anybody listens. */
const POLL_MS = 300;
/** And so soon where what was committed is waited for: two who write one text see each other (bench: long). */
const SOON_MS = 50;
/**
 * Numbers may be given in another order than they are committed: so far back it is looked again. What was told before is
 * not told twice.
 */
const LOOK_BACK = 500;
/** Hints older than this are of no use to anybody. */
const KEPT_MS = 10 * 60_000;

const HEARD = {
  seq: as.int,
  assignment_id: as.id<AssignmentId>(),
  copy_id: as.id<CopyId>(),
  kind: as.oneOf(HintKind.options),
} as const;
export type Heard = RowOf<typeof HEARD>;

interface Listener {
  readonly res: Response;
  hears(event: Heard): boolean;
}

/** Tails the event table and passes hints on over server-sent events. Every server process has one of its own. */
export class Hub {
  readonly #house: House;
  readonly #listeners = new Set<Listener>();
  readonly #told = new Set<number>();
  #last = 0;
  #clock: NodeJS.Timeout | null = null;
  #closed = false;
  #turning = false;
  #isSoon = false;
  #again = false;
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

  /** Something was committed here that is waited for: it is told without waiting for the next turn. */
  soon(): void {
    if (this.#closed || !this.#clock) return;
    if (this.#turning) this.#again = true;
    else if (!this.#isSoon) {
      this.#isSoon = true;
      clearTimeout(this.#clock);
      this.#clock = setTimeout(this.#turn, SOON_MS);
    }
  }

  #start(): void {
    if (this.#clock || this.#closed) return;
    this.#clock = setTimeout(this.#turn, POLL_MS);
  }

  readonly #turn = async (): Promise<void> => {
    this.#turning = true;
    this.#isSoon = false;
    try {
      await this.#tail();
    } catch (error) {
      this.#house.log.warn({ err: error }, 'the event table could not be read');
    }
    this.#turning = false;
    const wait = this.#again ? SOON_MS : POLL_MS;
    this.#again = false;
    this.#clock = this.#listeners.size && !this.#closed ? setTimeout(this.#turn, wait) : null;
  };

  /** Everything so far is old. */
  async #begin(): Promise<void> {
    const { db } = this.#house;
    const newest = await pickOne(db.manager.createQueryBuilder(EventTable, 'e'), {
      seq: col('MAX(e.seq)', as.count),
    });
    this.#last = newest!.seq;
    this.#told.clear();
    for (const { seq } of await this.#recent()) this.#told.add(seq);
  }

  async #tail(): Promise<void> {
    for (const event of await this.#recent()) {
      const { seq } = event;
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

  /** Raw: every server asks it three times a second as long as anybody listens (bench: room). */
  async #recent(): Promise<Heard[]> {
    const events = await this.#house.db.query(
      'SELECT seq, assignment_id, copy_id, kind FROM event WHERE seq > ? ORDER BY seq LIMIT 5000',
      [this.#last - LOOK_BACK],
    );
    return readRows(events, HEARD);
  }

  async #sweep(): Promise<void> {
    const now = this.#house.now();
    if (now - this.#swept < 60_000) return;
    this.#swept = now;
    await this.#house.db.manager.getRepository(EventTable).delete({ at: LessThan(now - KEPT_MS) });
  }
}
