import * as z from 'zod';

/**
 * One step of a copy's working trail, as small as it can be: of an answer where it changed, how much was cut there and
 * what was put in its place; of the drawing that a stroke came (its size in points) or went. Lengths count UTF-16 units.
 */
export const TrailEntry = z.union([
  z.tuple([z.literal('t'), z.int().min(0), z.int().min(0), z.string()]),
  z.tuple([z.literal('+'), z.int().min(0)]),
  z.tuple([z.literal('-')]),
]);
export type TrailEntry = z.infer<typeof TrailEntry>;

/** How `after` came out of `before`: the smallest single replacement. */
export function textStep(before: string, after: string): TrailEntry {
  const most = Math.min(before.length, after.length);
  let start = 0;
  while (start < most && before[start] === after[start]) start++;
  let end = 0;
  while (end < most - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  return ['t', start, before.length - start - end, after.slice(start, after.length - end)];
}

/** The text after the step. Law: `replayText(before, textStep(before, after)) === after`. A step that is not about text changes nothing. */
export function replayText(before: string, step: TrailEntry): string {
  if (step[0] !== 't') return before;
  const [, at, cut, put] = step;
  return before.slice(0, at) + put + before.slice(at + cut);
}
