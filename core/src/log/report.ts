import * as z from 'zod';

/** The longest text of a report, in letters. */
export const REPORT_WORDS = 20_000;
export const TermName = z.string().trim().min(1).max(40);

/** What a teacher writes about a student for a term. */
export const Report = z.object({
  term: TermName,
  words: z.string().max(REPORT_WORDS),
  /** When it was last changed; a change made on an older one is refused. 0: it was never written. */
  changedAt: z.int().min(0),
  by: z.string(),
});
export type Report = z.infer<typeof Report>;

/** What an address opens to whoever has it: a student's log for the family, or a calendar of due dates. */
export const OpenKind = z.enum(['family-log', 'calendar']);
export type OpenKind = z.infer<typeof OpenKind>;
