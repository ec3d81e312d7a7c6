import { type Across, type AcrossCopy, type AnswerGroup, groupAnswers } from '@jotmark/core';

/** What is shown as one: equal answers, or one answer that nobody can compare. */
export interface Shown {
  readonly key: string;
  readonly group: AnswerGroup<AcrossCopy> | null;
  readonly copies: readonly AcrossCopy[];
}

/** The answers of a class as they are shown: alike ones together, then those that stand for themselves. */
export function groupsOf(across: Across): Shown[] {
  const typed = across.copies.filter((c) => c.value !== null);
  const { answer } = across.question;
  const groups = groupAnswers(typed, (c) => c.value!, answer?.kind === 'number' ? answer.unit : '');
  return [
    ...groups.map((group) => ({ key: `g:${group.normal}`, group, copies: group.answers })),
    ...across.copies
      .filter((c) => c.value === null)
      .map((c) => ({ key: c.copyId, group: null, copies: [c] })),
  ];
}
