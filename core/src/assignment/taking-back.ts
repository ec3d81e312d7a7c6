import * as z from 'zod';

/**
 * How long students can take a hand-in back, as their teacher says. A rule and a date are all that it may follow from before work goes back: what a student
 * can or cannot do must not tell how far the marking is.
 */
export const TakingBack = z.enum(['until-marked', 'until-due', 'never']);
export type TakingBack = z.infer<typeof TakingBack>;

/**
 * Whether a hand-in can be taken back at `now` by rule and date alone. Without a due date `until-due` is over at once. Under `until-marked` it can be tried;
 * whether marking has begun is for the server to see, under its locks. All times in milliseconds.
 */
export function mayTakeBack(rule: TakingBack, dueAt: number | null, now: number): boolean {
  switch (rule) {
    case 'never':
      return false;
    case 'until-due':
      return dueAt !== null && now < dueAt;
    case 'until-marked':
      return true;
  }
}

/**
 * Until when nobody may begin to mark a hand-in, because its student has been promised to be able to take it back; null: marking may begin. Otherwise a refusal
 * would tell that it has begun.
 */
export function promisedUntil(rule: TakingBack, dueAt: number | null, now: number): number | null {
  return rule === 'until-due' && mayTakeBack(rule, dueAt, now) ? dueAt : null;
}
