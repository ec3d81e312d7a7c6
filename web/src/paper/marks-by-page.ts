import type { DocumentId, Mark } from '@jotmark/core';
import { sameList } from '../frame/useSameList.ts';

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
  // Of thousands of marks most lie on the page of the one before.
  let at = -1;
  for (const mark of marks) {
    const page = pages[at];
    if (page?.page !== mark.page || page.document !== mark.document) at = indexOfMark(pages, mark);
    lists[at]?.push(mark);
  }
  return lists.map((list, i) => {
    const old = before[i];
    return old && sameList(old, list) ? old : list;
  });
}

/** Where a mark's page lies in the stack; -1 when it is not there. */
export function indexOfMark(pages: readonly Where[], mark: Where): number {
  return pages.findIndex((p) => p.document === mark.document && p.page === mark.page);
}
