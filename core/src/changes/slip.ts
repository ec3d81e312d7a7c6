import * as z from 'zod';
import { BecameOf } from '../again/became.ts';
import { MOST_MEMBERS } from '../assignment/together.ts';
import { PersonId } from '../ids/id.ts';
import { MAX_POINTS } from '../points/points.ts';
import { Recording } from '../voice/recording.ts';

/** A second opinion on a grade, in hundredths. */
const Second = z.object({ by: PersonId, grade: z.int().min(0).max(MAX_POINTS) });

/** A grade of one's own, by the member of the group. */
export const OwnGrades = z
  .record(PersonId, z.int().min(0).max(MAX_POINTS))
  .refine((own) => Object.keys(own).length <= MOST_MEMBERS, 'no more than a group has');
export type OwnGrades = z.infer<typeof OwnGrades>;

/**
 * The fields of the score slip besides the marks, in one table: what each may hold, what stands there before anybody wrote, and how it lies in the
 * database. Changes, sheets, the contract and the server read it; a new field is a line here and a column of `marking`.
 */
export const SLIP = {
  /** The grade that was typed, in hundredths of a point; it stands over the computed one. Null: none. */
  grade: { schema: z.int().min(0).max(MAX_POINTS).nullable(), empty: null as number | null, column: 'int' },
  /** The closing words. */
  closing: { schema: z.string().max(6000), empty: '' as string, column: 'long' },
  /** What is said about the whole copy; null: nothing. */
  voice: { schema: Recording.nullable(), empty: null as Recording | null, column: 'json' },
  /** Whether what lateness costs was lifted by hand. */
  lifted: { schema: z.boolean(), empty: false as boolean, column: 'flag' },
  /** The words of the midway round, released alone. */
  midway: { schema: z.string().max(6000), empty: '' as string, column: 'long' },
  /** What a second teacher would give, who has not seen the grade; null: nobody was asked. */
  second: { schema: Second.nullable(), empty: null as z.infer<typeof Second> | null, column: 'json' },
  /** What became of the notes of the hand-in before, as far as the teacher has said; null: nothing was said. */
  became: { schema: BecameOf.nullable(), empty: null as BecameOf | null, column: 'json' },
  /** Grades of single members of a group, in hundredths, where theirs is not the group's; null: all have the same. */
  own: { schema: OwnGrades.nullable(), empty: null as OwnGrades | null, column: 'json' },
  /** Whether it is marked, ready to be handed back. */
  done: { schema: z.boolean(), empty: false as boolean, column: 'flag' },
} as const;

export type SlipField = keyof typeof SLIP;
export type SlipValue<F extends SlipField> = z.infer<(typeof SLIP)[F]['schema']>;
export const SLIP_FIELDS = Object.keys(SLIP) as readonly SlipField[];

/** One value for each field of the slip. */
export function eachSlipField<T>(make: (field: SlipField) => T): { readonly [F in SlipField]: T } {
  return Object.fromEntries(SLIP_FIELDS.map((f) => [f, make(f)])) as { readonly [F in SlipField]: T };
}

/** A field's value as the database gives it: flags are 0 and 1 there, values with parts are JSON. Null stands for what nobody wrote. */
export function restoreSlip<F extends SlipField>(field: F, stored: unknown): SlipValue<F> {
  if (stored === null || stored === undefined) return SLIP[field].empty as SlipValue<F>;
  const { column } = SLIP[field];
  if (column === 'flag') return Boolean(Number(stored)) as SlipValue<F>;
  return (column === 'json' && typeof stored === 'string' ? JSON.parse(stored) : stored) as SlipValue<F>;
}
