import { type Change, type ChangeId, type Subject, subjectOf } from '@jotmark/core';
import type { SheetId } from './device.ts';
import type { Valued } from './loose-change.ts';

interface Stands {
  readonly base: ChangeId | null;
  readonly was: unknown;
}

const keyOf = (sheetId: SheetId, subject: Subject, base: ChangeId | null) =>
  `${sheetId} ${subject} ${base ?? ''}`;

/**
 * Changes of this tab that the server has taken: what a view read before them is older than what stands. A change made on the older would be
 * refused as if somebody else had written in between.
 */
export class OwnSent {
  /** By what each was made on. */
  readonly #after = new Map<string, Valued>();

  keep(sheetId: SheetId, changes: readonly Change[]): void {
    for (const change of changes)
      if (change.type === 'write' || change.type === 'score')
        this.#after.set(keyOf(sheetId, subjectOf(change), change.base), change);
  }

  /** What stands, after what was read: the same, where this tab did nothing since. */
  standsAfter(sheetId: SheetId, subject: Subject, read: Stands): Stands {
    let stands = read;
    const seen = new Set<ChangeId | null>();
    while (!seen.has(stands.base)) {
      seen.add(stands.base);
      const next = this.#after.get(keyOf(sheetId, subject, stands.base));
      if (next) stands = { base: next.id, was: next.value };
    }
    return stands;
  }

  clear(): void {
    this.#after.clear();
  }
}
