import * as z from 'zod';
import { AssignmentId, ClassId, CopyId, MarkId, PersonId } from '../ids/id.ts';

const Moment = z.int().min(0);

/** What a teacher hears of. */
export const TEACHER_NEWS = [
  'handed-in',
  'in-again',
  'answered',
  'message',
  'set-time',
  'forgotten',
  'remark-answered',
  'asked',
  'asked-answered',
  'join-asked',
] as const;
/** What a student hears of. */
export const STUDENT_NEWS = [
  'handed-back',
  'unfinished',
  'midway',
  'recalled',
  'message',
  'set',
  'changed',
  'new-date',
  'due-tomorrow',
  'handed-in-for',
  'remark',
  'join-answered',
] as const;

export const NewsKind = z.enum([...new Set([...TEACHER_NEWS, ...STUDENT_NEWS])]);
export type NewsKind = z.infer<typeof NewsKind>;

/** One thing that somebody is told of. */
export const Notice = z.object({
  id: z.int(),
  kind: NewsKind,
  at: Moment,
  read: z.boolean(),
  assignmentId: AssignmentId.nullable(),
  copyId: CopyId.nullable(),
  /** The feedback log it is about; null: none. */
  log: z.object({ classId: ClassId, personId: PersonId }).nullable(),
  /** The mark it is about; null: none. */
  mark: MarkId.nullable(),
  title: z.string(),
  className: z.string(),
  /** Of whom it is, as the reader may know them; empty: of nobody. */
  who: z.string(),
  /** What was said; empty: nothing. */
  words: z.string(),
  /** A date it is about; null: none. */
  due: Moment.nullable(),
  /** How many it is about. */
  count: z.int(),
});
export type Notice = z.infer<typeof Notice>;

/** The longest words of a notice. */
export const NEWS_WORDS = 300;
/** So many are shown at once. */
export const NEWS_SHOWN = 200;
