import * as z from 'zod';
import { ClassId, PersonId } from '../ids/id.ts';
import { JoinCode } from '../register/join-code.ts';

export const ClassHead = z.object({
  id: ClassId,
  name: z.string(),
  unit: z.string(),
  students: z.int(),
  assignments: z.int(),
  /** Out of the way: it stands in no list but that of archived classes, and all of it is kept. */
  archived: z.boolean(),
});
export type ClassHead = z.infer<typeof ClassHead>;

/** What became of a student's data when it was erased. */
export const Erased = z.object({
  /** Copies that went with all that came of them. */
  copies: z.int(),
  /** Copies of groups that stay with the others. */
  shared: z.int(),
  /** The account went too: they are in no other class. */
  account: z.boolean(),
});
export type Erased = z.infer<typeof Erased>;

export const RegisterRow = z.object({
  personId: PersonId,
  given: z.string(),
  family: z.string(),
  login: z.string(),
  left: z.boolean(),
});
export type RegisterRow = z.infer<typeof RegisterRow>;

export const Register = z.object({
  class: ClassHead,
  students: z.array(RegisterRow),
  teachers: z.array(z.object({ personId: PersonId, name: z.string(), login: z.string() })),
  /** By which students ask to be let in; null: they cannot. */
  joinCode: JoinCode.nullable(),
});
export type Register = z.infer<typeof Register>;

export const RosterPlan = z.object({
  /** null: the list can be read. */
  trouble: z.enum(['empty', 'too-many', 'too-long']).nullable(),
  count: z.int(),
  lines: z.array(
    z.object({
      line: z.int(),
      given: z.string(),
      family: z.string(),
      login: z.string().nullable(),
      outcome: z.enum(['new', 'here', 'returns', 'joins', 'wrong']),
      known: z.string().nullable(),
      why: z
        .enum([
          'no-name',
          'formula',
          'too-long',
          'bad-login',
          'double',
          'broken',
          'control',
          'a-teacher',
          'not-yours',
        ])
        .nullable(),
      of: z.int().nullable(),
    }),
  ),
});
export type RosterPlan = z.infer<typeof RosterPlan>;

/** One line of the sheet to print: the password is shown once and kept nowhere. */
export const Credentials = z.object({
  personId: PersonId,
  given: z.string(),
  family: z.string(),
  login: z.string(),
  /** null: this person has one already. */
  password: z.string().nullable(),
});
export type Credentials = z.infer<typeof Credentials>;
