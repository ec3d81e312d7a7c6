import type { Response } from 'express';
import type { House } from '../house.ts';

/** How often what is open is looked at: two windows on one thing see each other's changes well within a second. */
const POLL_MS = 300;

interface Newest {
  readonly id: string;
  readonly seq: number;
}

/**
 * Tells who has something open how far it is, by the number of its newest change. It reads the changes' own numbers, so writing costs nothing more, and it
 * does not matter which server process took the change.
 */
export class SeqLine {
  readonly #house: House;
  readonly #says: string;
  readonly #newest: (ids: readonly string[]) => Promise<readonly Newest[]>;
  readonly #open = new Map<string, { seq: number; readonly lines: Set<Response> }>();
  #clock: NodeJS.Timeout | null = null;
  #closed = false;

  /** `says` is what the number is called on the line; `newest` reads the numbers of what is open. */
  constructor(house: House, says: string, newest: (ids: readonly string[]) => Promise<readonly Newest[]>) {
    this.#house = house;
    this.#says = says;
    this.#newest = newest;
  }

  /** From now on this line hears of `id`, until the browser goes. */
  add(res: Response, id: string): void {
    const open = this.#open.get(id) ?? { seq: -1, lines: new Set() };
    this.#open.set(id, open);
    res.on('close', () => {
      open.lines.delete(res);
      if (open.lines.size === 0) this.#open.delete(id);
    });
    // Who comes is told at once how far it is: what happened since it was read is not missed.
    if (open.seq >= 0) this.#tell(res, open.seq);
    open.lines.add(res);
    this.#start();
  }

  close(): void {
    this.#closed = true;
    if (this.#clock) clearTimeout(this.#clock);
    for (const { lines } of this.#open.values()) for (const res of lines) res.end();
  }

  #start(): void {
    if (this.#clock || this.#closed) return;
    const turn = async () => {
      try {
        await this.#look();
      } catch (error) {
        this.#house.log.warn({ err: error, what: this.#says }, 'what is open could not be looked at');
      }
      this.#clock = this.#open.size && !this.#closed ? setTimeout(turn, POLL_MS) : null;
    };
    this.#clock = setTimeout(turn, 0);
  }

  async #look(): Promise<void> {
    if (this.#open.size === 0) return;
    for (const { id, seq } of await this.#newest([...this.#open.keys()])) {
      const open = this.#open.get(id);
      if (!open || seq <= open.seq) continue;
      open.seq = seq;
      for (const res of open.lines) this.#tell(res, seq);
    }
  }

  #tell(res: Response, seq: number): void {
    res.write(`data: ${JSON.stringify({ [this.#says]: seq })}\n\n`);
  }
}
