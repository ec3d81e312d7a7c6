import {
  type ChangeId,
  type HandInId,
  type MarkId,
  type MarkingChange,
  type Person,
  type PhraseId,
  refillPhrase,
} from '@jotmark/core';
import { In } from 'typeorm';
import { usesOf } from '../bank/uses.ts';
import { MarkingTable, MarkTable } from '../database/entities/index.ts';
import { as, col, pick } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { type House, newId } from '../house.ts';
import { takeChanges } from './take-changes.ts';

/**
 * Comments that were made with a phrase say what it says now, as changes like any others, so that open desks get them and they can be undone. Those changed
 * by hand since, and those handed back, stay.
 */
export async function followPhrase(
  house: House,
  owner: Person,
  phraseId: PhraseId,
  { was, now }: { readonly was: string; readonly now: string },
): Promise<{ changed: number; left: number }> {
  const db = house.db.manager;
  const uses = await pick(usesOf(db, owner, phraseId).andWhere('u.markId IS NOT NULL').distinct(true), {
    handInId: col('u.handInId', as.id<HandInId>()),
    markId: col('u.markId', as.id<MarkId>()),
    back: col('b.id IS NOT NULL', as.flag),
  });
  const open = new Map<HandInId, MarkId[]>();
  for (const { handInId, markId, back } of uses)
    if (!back) open.set(handInId, [...(open.get(handInId) ?? []), markId]);
  let changed = 0;
  for (const [handInId, ids] of open) {
    const marking = await find(db, MarkingTable, { handInId });
    if (!marking) continue;
    const rows = await db.getRepository(MarkTable).findBy({ markingId: marking.id, id: In(ids) });
    const changes = rows.flatMap(({ version, value }): MarkingChange[] => {
      const words = value && 'words' in value ? refillPhrase(was, now, value.words) : null;
      return value && words !== null && 'words' in value && words !== value.words
        ? [{ id: newId<ChangeId>(house), base: version, type: 'put', mark: { ...value, words }, was: value }]
        : [];
    });
    if (changes.length === 0) continue;
    const { results } = await takeChanges(house, owner, { handInId }, changes);
    changed += results.filter((r) => r.outcome === 'applied').length;
  }
  return { changed, left: uses.length - changed };
}
