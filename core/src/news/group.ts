import type { Notice } from './notice.ts';

/** So many of a kind in a row are told as one. */
const MANY = 4;

/** News of one kind about one assignment that came one after the other: the newest, and what is told with it. */
export interface NewsGroup {
  readonly first: Notice;
  readonly all: readonly Notice[];
}

/** Puts long runs of the same together: thirty copies that came in are one line, as long as nothing else came in between. */
export function groupNews(notices: readonly Notice[]): NewsGroup[] {
  const runs: Notice[][] = [];
  for (const n of notices) {
    const last = runs.at(-1);
    const like = last?.[0];
    if (
      like &&
      like.kind === n.kind &&
      like.assignmentId === n.assignmentId &&
      like.read === n.read &&
      n.kind === 'handed-in'
    )
      last.push(n);
    else runs.push([n]);
  }
  return runs.flatMap((all) =>
    all.length >= MANY ? [{ first: all[0]!, all }] : all.map((first) => ({ first, all: [first] })),
  );
}
