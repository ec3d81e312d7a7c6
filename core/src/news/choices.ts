import * as z from 'zod';
import type { Role } from '../contract/shapes.ts';
import { NewsKind, STUDENT_NEWS, TEACHER_NEWS } from './notice.ts';

/** How somebody is written to about one kind of news: each time, once a day, or not at all. */
export const MailHow = z.enum(['each', 'daily', 'none']);
export type MailHow = z.infer<typeof MailHow>;

/** What one is told of: whether it stands among the news, and how one is written to. What is not named is as most want it. */
export const NewsChoices = z.partialRecord(NewsKind, z.object({ news: z.boolean(), mail: MailHow }));
export type NewsChoices = z.infer<typeof NewsChoices>;

/** Written to at once unless one says otherwise: what a student waits for, or must not miss. */
const AT_ONCE: ReadonlySet<NewsKind> = new Set([
  'handed-back',
  'unfinished',
  'recalled',
  'set',
  'new-date',
  'set-time',
]);

export const newsOf = (role: Role): readonly NewsKind[] =>
  role === 'teacher' ? TEACHER_NEWS : role === 'student' ? STUDENT_NEWS : [];

/** What holds for one kind of news. */
export function choiceFor(
  choices: NewsChoices,
  kind: NewsKind,
): { readonly news: boolean; readonly mail: MailHow } {
  return choices[kind] ?? { news: true, mail: AT_ONCE.has(kind) ? 'each' : 'daily' };
}
