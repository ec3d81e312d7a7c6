import * as z from 'zod';

/** Letters and digits that nobody takes for another, read from a board at the back of a room. */
const LETTERS = '346789ABCDEFGHJKMNPQRTUVWXY';
const LENGTH = 6;

/** What a student types to ask to be let into a class. */
export const JoinCode = z.string().regex(new RegExp(`^[${LETTERS}]{${LENGTH}}$`));
export type JoinCode = z.infer<typeof JoinCode>;

/** A code made of random bytes, of which there are at least six; no letter is likelier than another by more than a ninth. */
export const joinCodeOf = (bytes: Uint8Array): JoinCode =>
  Array.from(bytes.slice(0, LENGTH), (b) => LETTERS[b % LETTERS.length]).join('');

/** The code that somebody typed: small letters, blanks and dashes do not matter. Null where it is none. */
export function readJoinCode(typed: string): JoinCode | null {
  const read = JoinCode.safeParse(typed.replace(/[\s-]/g, '').toUpperCase());
  return read.success ? read.data : null;
}

/** As it is written on a board: in two halves. */
export const joinCodeShown = (code: JoinCode): string => `${code.slice(0, 3)} ${code.slice(3)}`;
