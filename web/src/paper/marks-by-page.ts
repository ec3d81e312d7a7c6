import type { DocumentId, Mark } from '@jotmark/core';

/** Marks by page; a page whose marks are the same as `before` keeps its very array, so that only changed pages are painted. */
export function marksByPage(
  marks: readonly Mark[],
  document: DocumentId,
  pages: number,
  before: readonly (readonly Mark[])[],
): (readonly Mark[])[] {
  const byPage: Mark[][] = Array.from({ length: pages }, () => []);
  for (const mark of marks) if (mark.document === document) byPage[mark.page]?.push(mark);
  return byPage.map((list, i) => {
    const old = before[i];
    return old && old.length === list.length && old.every((m, k) => m === list[k]) ? old : list;
  });
}
