import * as z from 'zod';
import { Digest } from '../versions/digest.ts';
import { listOf, numbersOf } from '../versions/list.ts';

export const StampSign = z.enum(['tick', 'cross', 'half', 'dot', 'star', 'question']);
export type StampSign = z.infer<typeof StampSign>;

/** How a stamp looks: a sign of the house, one drawn at the desk, or a small picture. It travels with every mark, so that what was handed back never changes. */
export const StampLook = z.discriminatedUnion('of', [
  z.object({ of: z.literal('sign'), sign: StampSign }),
  /** Strokes as x, y, x, y … in thousandths of the square, from its top left. */
  z.object({
    of: z.literal('drawn'),
    name: z.string().min(1).max(40),
    strokes: listOf(
      numbersOf(600, 4, (v) => v >= 0 && v <= 1000, 2),
      40,
      1,
    ),
  }),
  z.object({
    of: z.literal('picture'),
    name: z.string().min(1).max(40),
    /** A PNG of at most 96 pixels on a side, by what its bytes are called. */
    picture: Digest,
  }),
]);
export type StampLook = z.infer<typeof StampLook>;

/** What a stamp is called in lists and by those who do not see it. */
export function stampName(look: StampLook): string {
  if (look.of !== 'sign') return look.name;
  return {
    tick: 'tick',
    cross: 'cross',
    half: 'half right',
    dot: 'dot',
    star: 'star',
    question: 'question mark',
  }[look.sign];
}
