import type { HandInId } from '@jotmark/core';
import type { Response } from 'express';
import { MarkingChangeTable } from '../database/entities/index.ts';
import { as, col, pick } from '../database/pick.ts';
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
    const rows = await pick(
      this.#house.db.manager
        .createQueryBuilder(MarkingChangeTable, 'x')
        .innerJoin('x.marking', 'm')
        .where('m.handInId IN (:...open)', { open: [...this.#open.keys()] })
        .groupBy('m.handInId'),
      { handInId: col('m.handInId', as.id<HandInId>()), seq: col('MAX(x.seq)', as.int) },
    );
    for (const { handInId, seq } of rows) {
      const marking = this.#open.get(handInId);
      if (!marking || seq <= marking.seq) continue;
      marking.seq = seq;
      for (const res of marking.desks) tell(res, seq);
    }
  }
}

const tell = (res: Response, seq: number) => res.write(`data: ${JSON.stringify({ seq })}\n\n`);
