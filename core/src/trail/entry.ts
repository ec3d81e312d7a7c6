import * as z from 'zod';

/**
 * One step of a copy's working trail, as small as it can be: of an answer where it changed, how much was cut there and
 * what was put in its place, and how much of that was pasted; of the drawing that a stroke came (its size in points) or went. Lengths count UTF-16 units.
 */
export const TrailEntry = z.union([
  z.tuple([z.literal('t'), z.int().min(0), z.int().min(0), z.string(), z.int().min(0).optional()]),
  z.tuple([z.literal('+'), z.int().min(0)]),
  z.tuple([z.literal('-')]),
]);
export type TrailEntry = z.infer<typeof TrailEntry>;

/** How `after` came out of `before`: the smallest single replacement. `pasted` letters of it were not typed. */
export function textStep(before: string, after: string, pasted = 0): TrailEntry {
  const most = Math.min(before.length, after.length);
  let start = 0;
  while (start < most && before[start] === after[start]) start++;
  let end = 0;
  while (end < most - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  const cut = before.length - start - end;
  const put = after.slice(start, after.length - end);
  return pasted ? ['t', start, cut, put, pasted] : ['t', start, cut, put];
}

/** The text after the step. Law: `replayText(before, textStep(before, after)) === after`. A step that is not about text changes nothing. */
export function replayText(before: string, step: TrailEntry): string {
  if (step[0] !== 't') return before;
  const [, at, cut, put] = step;
  return before.slice(0, at) + put + before.slice(at + cut);
}
