import * as z from 'zod';
import { Place } from '../copy/place.ts';
import { Scale } from '../grade/scale.ts';
import { AssignmentId, ChangeId, ClassId, CopyId, HandInId, PersonId } from '../ids/id.ts';
import { BookRule } from '../mark-book/rule.ts';
import { listOf } from '../versions/list.ts';
import { route } from './route.ts';
import { Moment } from './shapes.ts';

/** Pieces of work in one go, and grades of each. */
const MOST_WORKS = 20;
const MOST_GRADES = 2000;

/** One student's copy of one assignment, as the mark book shows it. */
export const BookCell = z.object({
  personId: PersonId,
  assignmentId: AssignmentId,
  /** Null while it is marked blind: then nothing of it is told here. */
  copyId: CopyId.nullable(),
  place: Place,
  /** What is entered for this student, in hundredths; null: nothing is. */
  grade: z.int().nullable(),
  /** The grade is their own, and not their group's. */
  own: z.boolean(),
  /** Its student has not got it yet. */
  held: z.boolean(),
  excused: z.boolean(),
  /** Its date is past and nothing came in. */
  missing: z.boolean(),
  late: z.boolean(),
  /** Where a grade that is typed here goes: the newest hand-in, or the copy itself; and the change that made what stands. */
  handInId: HandInId.nullable(),
  typed: z.int().nullable(),
  /** The grade as it was computed; null: none can be. */
  computed: z.int().nullable(),
  gradeVersion: ChangeId.nullable(),
});
export type BookCell = z.infer<typeof BookCell>;

export const BookColumn = z.object({
  id: AssignmentId,
  title: z.string(),
  category: z.string(),
  unit: z.string(),
  /** When it was due, or handed out where it has no date. */
  at: Moment,
  most: z.int().nullable(),
  scale: Scale,
});
export type BookColumn = z.infer<typeof BookColumn>;

export const MarkBook = z.object({
  className: z.string(),
  rule: BookRule,
  students: z.array(z.object({ id: PersonId, given: z.string(), family: z.string() })),
  columns: z.array(BookColumn),
  cells: z.array(BookCell),
});
export type MarkBook = z.infer<typeof MarkBook>;

/** Work with its grades, as another program's register has it. */
export const BroughtWork = z.object({
  title: z.string().trim().min(1).max(200),
  category: z.string().trim().max(60),
  /** In hundredths. */
  most: z.int().min(1).max(1_000_000),
  dueAt: Moment.nullable(),
  grades: listOf(z.object({ personId: PersonId, grade: z.int().min(0).max(1_000_000) }), MOST_GRADES),
});
export type BroughtWork = z.infer<typeof BroughtWork>;
export const BroughtGrades = z.object({
  /** Pieces of work that were made for them. */
  works: z.int(),
  grades: z.int(),
  /** Grades that were entered or handed back already, and stay. */
  kept: z.int(),
});
export type BroughtGrades = z.infer<typeof BroughtGrades>;

const params = z.object({ classId: ClassId });

/** The grades of a class over all that was set for it. */
export const bookRoutes = {
  markBook: route('GET', '/api/classes/:classId/mark-book', 'teacher', 'The mark book of a class', {
    params,
    reply: MarkBook,
  }),
  bringGrades: route(
    'POST',
    '/api/classes/:classId/mark-book/grades',
    'teacher',
    'Grades that another register holds',
    {
      params,
      body: z.object({ works: listOf(BroughtWork, MOST_WORKS, 1) }),
      limit: 4 * 1024 * 1024,
      reply: BroughtGrades,
    },
  ),
  saveBookRule: route('PUT', '/api/classes/:classId/mark-book/rule', 'teacher', 'How the mark book adds up', {
    params,
    body: z.object({ rule: BookRule }),
  }),
} as const;
