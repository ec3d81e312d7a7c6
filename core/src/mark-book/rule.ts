import * as z from 'zod';
import { type Reading, readBy } from '../versions/reading.ts';

/** Categories of work that a rule can weigh. */
export const MOST_CATEGORIES = 40;
export const MOST_TERMS = 12;

/** A stretch of the school year; work belongs to it by when it is due, or was handed out. */
export const Term = z
  .object({ name: z.string().trim().min(1).max(40), from: z.int(), to: z.int() })
  .refine((t) => t.from < t.to, 'a term ends after it begins');
export type Term = z.infer<typeof Term>;

/** Whether something that is due at this moment belongs to a term: from its first moment to just before its end. */
export const inTerm = (at: number, term: Term): boolean => at >= term.from && at < term.to;

/** How a mark book adds up: a rule that one can read. */
export const BookRule = z.object({
  /** How much each category counts; one that is not named counts 1. */
  weights: z
    .array(z.object({ category: z.string().trim().max(60), weight: z.int().min(0).max(100) }))
    .max(MOST_CATEGORIES)
    .refine((w) => new Set(w.map((x) => x.category)).size === w.length, 'each category once'),
  /** Within a category: points are added up, or each piece of work counts the same. */
  within: z.enum(['points', 'each']),
  /** Work that is missing after its date: left out, or nothing out of what it can earn. */
  missing: z.enum(['left-out', 'zero']),
  terms: z.array(Term).max(MOST_TERMS),
});
export type BookRule = z.infer<typeof BookRule>;

export const PLAIN_RULE: BookRule = { weights: [], within: 'points', missing: 'left-out', terms: [] };

export const readBookRule = (raw: unknown): Reading<BookRule> => readBy(BookRule, raw);

export const weightOf = (rule: BookRule, category: string): number =>
  rule.weights.find((w) => w.category === category)?.weight ?? 1;
