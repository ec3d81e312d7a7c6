import * as z from 'zod';

/**
 * A student's name as a teacher may see it. Only `seenName` makes one, and it must be told whether the copy is blind: an answer that forgets to ask does
 * not compile.
 */
export const SeenName = z.object({ given: z.string(), family: z.string() }).brand<'SeenName'>();
export type SeenName = z.infer<typeof SeenName>;

/** A student's name as it is. */
export interface RealName {
  readonly given: string;
  readonly family: string;
}

/** Letters and digits that are not taken for each other. */
const SIGNS = '23456789ABCDEFGHJKMNPQRSTVWXYZ';

/**
 * What stands for a student's name while a pile is marked blind: always the same for one copy, telling nothing of who it is, and
 * out of so many that two of one pile hardly ever agree. Made from the random part of the copy's id.
 */
export function blindName(copyId: string): SeenName {
  let n = Number.parseInt(copyId.replaceAll('-', '').slice(-12), 16);
  let code = '';
  for (let i = 0; i < 5; i++) {
    code += SIGNS[n % SIGNS.length];
    n = Math.floor(n / SIGNS.length);
  }
  return { given: 'Copy', family: code } as SeenName;
}

/** Whose a copy is, and whether it is marked blind now. */
export interface Whose {
  readonly copyId: string;
  readonly students: readonly RealName[];
  readonly blind: boolean;
}

/** The name that stands for a copy before a teacher: its code while it is blind. */
export const seenName = (whose: Whose): SeenName =>
  whose.blind ? blindName(whose.copyId) : (realName(whose.students) as SeenName);

/** The one student's name; of a group what they are called, as one says it: "Ada, Ben and Cyd". Two who are called the same keep their family names. */
export function realName(students: readonly RealName[]): RealName {
  const [only, ...others] = students;
  if (!only) return { given: '', family: '' };
  if (others.length === 0) return only;
  const called = students.map((s) => s.given || s.family);
  const names = students.map((s, i) =>
    called.indexOf(called[i]!) === called.lastIndexOf(called[i]!) ? called[i]! : fullName(s),
  );
  return { given: `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`, family: '' };
}

/** As a register has it: "Stone, Ada"; of a group, or of who has one name only, that. */
export const registerName = ({ given, family }: RealName): string =>
  family && given ? `${family}, ${given}` : family || given;

export const fullName = ({ given, family }: RealName): string => `${given} ${family}`.trim();
