import type { DocumentId, Mark } from '@jotmark/core';

interface Where {
  readonly document: DocumentId;
  readonly page: number;
}

/** Marks by page of a stack; a page whose marks are the same as `before` keeps its very array, so that only changed pages are painted. */
export function marksByPage(
  marks: readonly Mark[],
  pages: readonly Where[],
  before: readonly (readonly Mark[])[],
): (readonly Mark[])[] {
  const lists = pages.map((): Mark[] => []);
  const at = new Map(pages.map((p, i) => [`${p.document}/${p.page}`, i]));
  for (const mark of marks) {
    const i = at.get(`${mark.document}/${mark.page}`);
    if (i !== undefined) lists[i]!.push(mark);
  }
  return lists.map((list, i) => {
    const old = before[i];
    return old && old.length === list.length && old.every((m, k) => m === list[k]) ? old : list;
  });
}

/** Where a mark's page lies in the stack; -1 when it is not there. */
export function indexOfMark(pages: readonly Where[], mark: Where): number {
  return pages.findIndex((p) => p.document === mark.document && p.page === mark.page);
}
