import * as z from 'zod';
import { MarkId } from '../ids/id.ts';

/** What a teacher says has become of a note of the hand-in before: it is dealt with, it is said again, or it is let go. */
export const WhatBecame = z.enum(['dealt-with', 'again', 'let-go']);
export type WhatBecame = z.infer<typeof WhatBecame>;

/** By the note. */
export const BecameOf = z.record(MarkId, WhatBecame);
export type BecameOf = z.infer<typeof BecameOf>;

/** The same as its student gets it: what the note said, in a line, and what became of it. */
export const BecameLine = z.object({ mark: MarkId, words: z.string(), verdict: WhatBecame });
export type BecameLine = z.infer<typeof BecameLine>;
