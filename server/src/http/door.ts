import type { PersonId } from '@jotmark/core';
import pLimit, { type LimitFunction } from 'p-limit';

/** So many requests of one person are let in at the same moment; a browser asks for six things at once. */
const AT_ONCE = 4;

/**
 * Letting a request in asks the database. Who sends a thousand at once waits at the door behind themselves: nobody else does, and there is a connection left
 * for them.
 */
export class Door {
  readonly #people = new Map<PersonId, { readonly limit: LimitFunction; here: number }>();

  async through<T>(personId: PersonId, letIn: () => Promise<T>): Promise<T> {
    const own = this.#people.get(personId) ?? { limit: pLimit(AT_ONCE), here: 0 };
    this.#people.set(personId, own);
    own.here++;
    try {
      return await own.limit(letIn);
    } finally {
      if (--own.here === 0) this.#people.delete(personId);
    }
  }
}
