import { asSmallest, type Mark, type MarkId } from '@jotmark/core';
import { toast } from '../frame/toast.ts';
import { exchange, putChange } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { indexOfMark } from '../paper/marks-by-page.ts';
import { plural } from '../time/words.ts';
import type { DeskPaper } from './useDeskPaper.ts';

/** A swap that was left: where a whole sentence was written anew, only what changed stays a suggestion. */
export function useSmallest(keeper: SheetKeeper, paper: DeskPaper): (mark: Mark) => void {
  return (mark) => {
    if (mark.kind !== 'swap') return;
    const text = paper.texts[indexOfMark(paper.pages, mark)];
    const small = text && asSmallest(mark, text, () => newId<MarkId>());
    if (!small) return;
    const [first, ...more] = small;
    keeper.do(
      // Of another kind it is another mark: the swap goes.
      first!.kind === mark.kind
        ? [putChange(keeper, first!, mark), ...more.map((m) => putChange(keeper, m, null))]
        : exchange(keeper, [mark], [{ ...first!, id: newId<MarkId>() }, ...more]),
      `words:${mark.id}`,
    );
    toast(`Only what changes is suggested: ${plural(small.length, 'place', 'places')}.`);
  };
}
