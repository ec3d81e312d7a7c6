import { type Change, type ChangeId, type Mark, versionOf } from '@jotmark/core';
import { newId } from './new-id.ts';
import type { SheetKeeper } from './sheet-keeper.ts';

/** The change that puts a mark there, or there anew. */
export function putChange(keeper: SheetKeeper, mark: Mark, was: Mark | null): Change {
  return { id: newId<ChangeId>(), base: versionOf(keeper.view.sheet, mark.id), type: 'put', mark, was };
}

/** The change that takes a mark away. */
export function removeChange(keeper: SheetKeeper, mark: Mark): Change {
  return {
    id: newId<ChangeId>(),
    base: versionOf(keeper.view.sheet, mark.id),
    type: 'remove',
    of: mark.id,
    was: mark,
  };
}

/** What stands of a mark now. */
export const standing = (keeper: SheetKeeper, mark: Mark): Mark | null =>
  keeper.view.sheet.marks.get(mark.id)?.value ?? null;

/** A use of the eraser: what went, and the pieces that are left. */
export function exchange(keeper: SheetKeeper, gone: readonly Mark[], come: readonly Mark[]): Change[] {
  return [
    ...gone.filter((m) => standing(keeper, m)).map((m) => removeChange(keeper, m)),
    ...come.map((m) => putChange(keeper, m, null)),
  ];
}
