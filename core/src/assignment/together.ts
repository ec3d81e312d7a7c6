import * as z from 'zod';
import { PersonId } from '../ids/id.ts';

/** Members that a group may have. */
export const MOST_MEMBERS = 12;

/** How students work on an assignment together, as a teacher sets it before it is handed out. */
export const Together = z.object({
  /** So many students to a group. */
  most: z.int().min(2).max(MOST_MEMBERS),
  /** Until then students choose with whom they work; null: they do not. */
  chosenUntil: z.int().nullable(),
  /** Who is with whom. Who stands in none works alone at first. */
  groups: z
    .array(z.array(PersonId).min(1).max(MOST_MEMBERS))
    .max(1000)
    .refine((groups) => new Set(groups.flat()).size === groups.flat().length, 'each student once'),
});
export type Together = z.infer<typeof Together>;

/**
 * Students in groups of about `size`, in their order: as few groups as it takes, and none larger than another by more than one. Ten in groups of three
 * are 3, 3, 2 and 2.
 */
export function inGroups<T>(students: readonly T[], size: number): T[][] {
  const count = Math.ceil(students.length / Math.max(1, size));
  return Array.from({ length: count }, (_, i) => {
    const from = Math.floor((i * students.length) / count);
    return students.slice(from, Math.floor(((i + 1) * students.length) / count));
  });
}

/** The groups after somebody was put into one (`to` counted from 0; null: into none, or a new one where it is beyond the last). Empty ones go. */
export function putIn(
  groups: readonly (readonly PersonId[])[],
  who: PersonId,
  to: number | null,
): PersonId[][] {
  const without = groups.map((g) => g.filter((p) => p !== who));
  if (to !== null) {
    if (to < without.length) without[to]!.push(who);
    else without.push([who]);
  }
  return without.filter((g) => g.length > 0);
}

/** Whether students may choose now. */
export const mayChoose = (together: Pick<Together, 'chosenUntil'> | null, now: number): boolean =>
  together?.chosenUntil != null && now < together.chosenUntil;
