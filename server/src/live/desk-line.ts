import type { Response } from 'express';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';
import { openLine } from './line.ts';

/** How often open markings are looked at: two teachers on one copy see each other's marks well within a second. */
const POLL_MS = 300;

/**
 * Tells every open desk how far its marking is. It reads the changes' own numbers, so saving a mark costs nothing more, and
 * it does not matter which server process took the change.
 */
export class DeskLine {
  readonly #house: House;
  readonly #open = new Map<string, { seq: number; readonly desks: Set<Response> }>();
  #clock: NodeJS.Timeout | null = null;
  #closed = false;

  constructor(house: House) {
    this.#house = house;
  }

  listen(res: Response, handInId: string): void {
    const marking = this.#open.get(handInId) ?? { seq: -1, desks: new Set() };
    this.#open.set(handInId, marking);
    openLine(res, () => {
      marking.desks.delete(res);
      if (marking.desks.size === 0) this.#open.delete(handInId);
    });
    // Who comes is told at once how far it is: what happened since the desk was read is not missed.
    if (marking.seq >= 0) tell(res, marking.seq);
    marking.desks.add(res);
    this.#start();
  }

  close(): void {
    this.#closed = true;
    if (this.#clock) clearTimeout(this.#clock);
    for (const { desks } of this.#open.values()) for (const res of desks) res.end();
  }

  #start(): void {
    if (this.#clock || this.#closed) return;
    const turn = async () => {
      try {
        await this.#look();
      } catch (error) {
        this.#house.log.warn({ err: error }, 'open markings could not be looked at');
      }
      this.#clock = this.#open.size && !this.#closed ? setTimeout(turn, POLL_MS) : null;
    };
    this.#clock = setTimeout(turn, 0);
  }

  async #look(): Promise<void> {
    if (this.#open.size === 0) return;
    const rows: RawRow[] = await this.#house.db.query(
      'SELECT hand_in_id, MAX(seq) AS seq FROM marking_change WHERE hand_in_id IN (?) GROUP BY hand_in_id',
      [[...this.#open.keys()]],
    );
    for (const row of rows) {
      const marking = this.#open.get(row.hand_in_id);
      const seq = Number(row.seq);
      if (!marking || seq <= marking.seq) continue;
      marking.seq = seq;
      for (const res of marking.desks) tell(res, seq);
    }
  }
}

const tell = (res: Response, seq: number) => res.write(`data: ${JSON.stringify({ seq })}\n\n`);
