import * as z from 'zod';

const Words = (most: number) => z.string().trim().max(most);

/** How copies go back. */
export const HandBackHow = z.object({
  /** Words and marks, and no grade: to be completed. */
  unfinished: z.boolean(),
  /** Students are told. Without it they find it when they look. */
  tell: z.boolean(),
  /** What they are told besides; empty: nothing. */
  sentence: Words(300),
  /** Words that go into the conversation on each copy; empty: none. */
  cover: Words(4000),
  /** The grade shows when all notes were opened. */
  gradeAfter: z.boolean(),
  /** A question to think about, at the end of what the student does with it; empty: none. */
  reflect: Words(500),
});
export type HandBackHow = z.infer<typeof HandBackHow>;

/** As most evenings end. */
export const PLAIN_HAND_BACK: HandBackHow = {
  unfinished: false,
  tell: true,
  sentence: '',
  cover: '',
  gradeAfter: false,
  reflect: '',
};
