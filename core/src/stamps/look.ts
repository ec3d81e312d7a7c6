import * as z from 'zod';

export const StampSign = z.enum(['tick', 'cross', 'half', 'dot', 'star', 'question']);
export type StampSign = z.infer<typeof StampSign>;

/** A picture as a PNG in base64. */
export const Png = z.string().regex(/^iVBORw0KGgo[A-Za-z0-9+/]+={0,2}$/);

/** Thousandths of the stamp's square. */
const Thousandth = z.int().min(0).max(1000);

/** How a stamp looks: a sign of the house, one drawn at the desk, or a small picture. It travels whole with every mark, so that what was handed back never changes. */
export const StampLook = z.discriminatedUnion('of', [
  z.object({ of: z.literal('sign'), sign: StampSign }),
  /** Strokes as x, y, x, y …, from the top left of the square. */
  z.object({
    of: z.literal('drawn'),
    name: z.string().min(1).max(40),
    strokes: z
      .array(z.array(Thousandth).min(4).max(600))
      .min(1)
      .max(40)
      .refine((all) => all.every((s) => s.length % 2 === 0), 'whole points only'),
  }),
  z.object({
    of: z.literal('picture'),
    name: z.string().min(1).max(40),
    /** At most 96 pixels on a side. */
    png: Png.max(30_000),
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
