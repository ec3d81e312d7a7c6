import type { PersonId } from '@jotmark/core';
import type { Response } from 'express';
import { Fault } from '../fault.ts';

/** Lines that one person may have open in one server: windows of one browser share few, and nobody has thirty desks. */
export const MOST_LINES = 30;
/** So many are asked about at a time. */
const AT_ONCE = 8;

interface Line {
  readonly res: Response;
  readonly personId: PersonId;
  /** Whether who has it open may still hear what it says. */
  readonly still: () => Promise<boolean>;
}

/** The lines of hints that are open in this server, each no longer than its session and what it is about allow. */
export class Lines {
  readonly #open = new Set<Line>();

  /** Counts a line in. Throws `too-many-lines`. */
  admit(res: Response, personId: PersonId, still: Line['still']): void {
    const own = [...this.#open].filter((l) => l.personId === personId).length;
    if (own >= MOST_LINES) throw new Fault('too-many-lines', { most: MOST_LINES });
    const line = { res, personId, still };
    this.#open.add(line);
    res.on('close', () => this.#open.delete(line));
  }

  /** Ends the lines whose people may not hear them any more. What cannot be asked just now stays open and is asked again. */
  async recheck(): Promise<void> {
    const all = [...this.#open];
    for (let i = 0; i < all.length; i += AT_ONCE)
      await Promise.all(
        all.slice(i, i + AT_ONCE).map(async ({ res, still }) => {
          if (!(await still().catch(() => true))) res.end();
        }),
      );
  }
}
