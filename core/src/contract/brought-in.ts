import * as z from 'zod';
import { CopyId, HandInId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';

/** What a PDF that was marked elsewhere holds for a copy. Nothing is changed by reading it: the desk puts the marks there. */
export const BroughtIn = z.object({
  marks: z.array(Mark),
  /** Kinds of annotations that are no marks of ours, with how many there are. */
  unknown: z.array(z.object({ kind: z.string(), count: z.int() })),
  /** Marks on pages that this copy does not have. */
  offPage: z.int(),
});
export type BroughtIn = z.infer<typeof BroughtIn>;

/** The same, and whose copy the file was found to be; null: it must be chosen by hand. */
export const BroughtInAny = BroughtIn.extend({
  to: z.object({ copyId: CopyId, handInId: HandInId, name: z.string() }).nullable(),
});
export type BroughtInAny = z.infer<typeof BroughtInAny>;
