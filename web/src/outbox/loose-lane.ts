import { type Change, type CopyId, subjectOf } from '@jotmark/core';
import type { Clash, Device, SheetId } from './device.ts';
import { isRefusal, Lane } from './lane.ts';
import {
  type BankLetter,
  copyOfWords,
  type HeardLetter,
  isChange,
  type LaneId,
  type Letter,
  type OpenedLetter,
  type WordLetter,
} from './letter.ts';
import type { Post } from './sheet-keeper.ts';

export interface LooseOptions {
  readonly personId: string;
  readonly lane: LaneId;
  readonly device: Device | null;
  readonly post: Post;
  later(work: () => void, ms: number): void;
  changed(): void;
  say(copyId: CopyId, letter: WordLetter): Promise<void>;
  bank(letter: BankLetter): Promise<void>;
  heard(letter: HeardLetter | OpenedLetter): Promise<void>;
  /** Hears what the server has committed, before it no longer waits. */
  committed(changes: readonly Change[]): void;
  /** A change could not be taken: it lies on this device until its copy is opened and its author chooses. */
  setAside(clash: Clash): void;
}

/** A lane of which no sheet is open: what earlier sittings left, a grade typed into the pile, words said on a copy. */
export function looseLane(o: LooseOptions): Lane {
  const putAside = async (mine: Change, why: Clash['why']) => {
    const clash: Clash = {
      sheetId: o.lane as SheetId,
      personId: o.personId,
      subject: subjectOf(mine),
      mine,
      why,
    };
    await o.device?.keepClash(clash);
    o.setAside(clash);
  };
  const sendChanges = async (changes: readonly Change[]) => {
    try {
      const { results } = await o.post.send(o.lane as SheetId, changes);
      for (const [i, { outcome, reason }] of results.entries()) {
        if (outcome === 'conflict') await putAside(changes[i]!, 'conflict');
        else if (outcome === 'refused') await putAside(changes[i]!, reason ?? 'bad-input');
      }
      o.committed(changes.filter((_, i) => ['applied', 'already'].includes(results[i]!.outcome)));
    } catch (error) {
      if (!isRefusal(error)) throw error;
      // One that cannot be read must not hold up the others.
      if (error.code === 'bad-input' && changes.length > 1) {
        for (const change of changes) await sendChanges([change]);
        return;
      }
      for (const change of changes)
        await putAside(
          change,
          error.code === 'taken-back' || error.code === 'still-open' ? error.code : 'bad-input',
        );
    }
  };
  const lane: Lane = new Lane({
    ...o,
    async send(batch: readonly Letter[], waited: boolean) {
      const changes = batch.filter(isChange);
      const other = batch[0]!;
      if (changes.length) await sendChanges(changes);
      else if (other.type === 'word') await o.say(copyOfWords(o.lane)!, other);
      else if (other.type === 'phrase' || other.type === 'phrase-use') await o.bank(other);
      else if (other.type === 'heard' || other.type === 'opened') await o.heard(other);
      else await o.post.sendOther!(o.lane as SheetId, other, waited);
      await lane.drop(new Set(batch.map((l) => l.id)));
    },
  });
  lane.join();
  return lane;
}
