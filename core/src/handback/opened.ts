import type { MarkId } from '../ids/id.ts';
import { isMarginMark, type Mark, recordingOf } from '../marks/mark.ts';
import type { Snapshot } from './snapshot.ts';

/** Whether there is something in a mark that must be opened to be read or heard: words beside the page, or a recording. */
export const opens = (mark: Mark): boolean => isMarginMark(mark) || recordingOf(mark) !== null;

/** What must be opened before the grade shows; empty where it shows at once. */
export const toOpen = (snapshot: Snapshot): MarkId[] =>
  snapshot.gradeAfter ? snapshot.marks.filter(opens).map((m) => m.id) : [];

/** How many of them are still closed. */
export const closedOf = (snapshot: Snapshot, opened: ReadonlySet<string>): number =>
  toOpen(snapshot).filter((id) => !opened.has(id)).length;

/**
 * The same without what tells the grade: not the sum, not what it is made of, nor what it was before. The levels of a rubric stay, without points, and so
 * do the points that stand on the pages.
 */
export function withoutGrade(snapshot: Snapshot): Snapshot {
  const { computed: _, counts: __, scored, since, ...rest } = snapshot;
  return {
    ...rest,
    grade: null,
    ...(scored && { scored: { ...scored, lines: [], parts: [], late: null } }),
    ...(since && { since: { ...since, grade: null } }),
  };
}
