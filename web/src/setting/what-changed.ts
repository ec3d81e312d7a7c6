import { type AssignmentWords, formatPoints, same } from '@jotmark/core';

/** What an edit changes for students, each as a part of a sentence: "the title", "due tomorrow 18:00 instead of Tue 18:00". */
export function whatChanged(
  before: AssignmentWords,
  after: AssignmentWords,
  moment: (at: number) => string,
): string[] {
  const due = (at: number | null) => (at === null ? 'no due date' : `due ${moment(at)}`);
  const points = (most: number | null) => (most === null ? 'ungraded' : `${formatPoints(most)} points`);
  return [
    ...(after.title === before.title ? [] : ['the new title']),
    ...(same(after.instructions, before.instructions) ? [] : ['the new instructions']),
    ...(after.dueAt === before.dueAt ? [] : [`${due(after.dueAt)} instead of ${due(before.dueAt)}`]),
    ...(after.most === before.most ? [] : [`${points(after.most)} instead of ${points(before.most)}`]),
    ...(after.handsIn === before.handsIn
      ? []
      : [after.handsIn ? 'that something is to be handed in' : 'that nothing is to be handed in']),
    ...(after.takeBack === before.takeBack ? [] : ['how long it can be taken back']),
    ...(after.category === before.category && after.unit === before.unit ? [] : ['where it belongs']),
  ];
}

/** The sentence that says an edit is saved, and what students see of it. */
export function savedSentence(changes: readonly string[], news: boolean): string {
  if (changes.length === 0) return 'Saved. Nothing changes for students.';
  const list = changes.length === 1 ? changes[0] : `${changes.slice(0, -1).join(', ')} and ${changes.at(-1)}`;
  return `Saved. Students see ${list}.${news ? ' They are told what you wrote.' : ''}`;
}
