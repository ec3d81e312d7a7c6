import * as z from 'zod';
import { MarkId } from '../ids/id.ts';

/** What is another than in the hand-back before, of the same hand-in. */
export const Since = z.object({
  /** Marks that came, and marks that are another. */
  came: z.array(MarkId),
  changed: z.array(MarkId),
  /** How many are gone. */
  went: z.int(),
  /** Null: it is the same. */
  grade: z.object({ from: z.int().nullable(), to: z.int().nullable() }).nullable(),
  closing: z.boolean(),
  /** Points or levels are others. */
  scores: z.boolean(),
});
export type Since = z.infer<typeof Since>;
