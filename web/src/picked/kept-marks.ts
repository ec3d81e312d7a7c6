import { type CopyTo, copyMark, type Mark } from '@jotmark/core';

/** Marks that were copied at this desk; they can be put down on another page, and on another student's copy. */
let kept: readonly Mark[] = [];

export function keepMarks(marks: readonly Mark[]): void {
  kept = marks;
}

export const keptMarks = (): readonly Mark[] => kept;

/** How far a second one lies from the first where both are on one page, in points. */
const BESIDE = 12;

/** New marks like these on a page. What quotes words of another page stays behind; `left` says how many did. */
export function putDown(
  marks: readonly Mark[],
  to: Omit<CopyTo, 'by'>,
): { readonly marks: readonly Mark[]; readonly left: number } {
  const made = marks.map((mark) => {
    const same = mark.document === to.document && mark.page === to.page;
    return copyMark(mark, { ...to, by: same ? [BESIDE, BESIDE] : [0, 0] });
  });
  const come = made.filter((mark) => mark !== null);
  return { marks: come, left: made.length - come.length };
}
