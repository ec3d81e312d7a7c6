import * as z from 'zod';
import { MOST_MEMBERS, Together } from '../assignment/together.ts';
import { AssignmentId, CopyId, PersonId } from '../ids/id.ts';
import { route } from './route.ts';
import { AssignmentSheet } from './setting-shapes.ts';
import { Moment } from './shapes.ts';

/** The groups of an assignment, as its students see them. */
export const GroupsToChoose = z.object({
  most: z.int().max(MOST_MEMBERS),
  /** Until when one can choose; null: one cannot. */
  until: Moment.nullable(),
  groups: z.array(
    z.object({
      copyId: CopyId,
      members: z.array(z.string()),
      mine: z.boolean(),
      /** With the teacher, or full: nobody joins. */
      closed: z.boolean(),
    }),
  ),
});
export type GroupsToChoose = z.infer<typeof GroupsToChoose>;

const ofAssignment = z.object({ assignmentId: AssignmentId });
const ofCopy = z.object({ copyId: CopyId });

/** Working together: who shares a copy. */
export const togetherRoutes = {
  saveTogether: route(
    'PUT',
    '/api/assignments/:assignmentId/together',
    'teacher',
    'How students work together: who is with whom before it is handed out, afterwards how many and until when they choose',
    {
      params: ofAssignment,
      body: z.object({ together: Together.nullable() }),
      reply: AssignmentSheet,
      limit: 160 * 1024,
    },
  ),
  moveMember: route(
    'POST',
    '/api/assignments/:assignmentId/together/move',
    'teacher',
    'Put a student into another group’s copy, or give them one of their own',
    {
      params: ofAssignment,
      body: z.object({ personId: PersonId, to: CopyId.nullable() }),
      reply: AssignmentSheet,
    },
  ),
  groupsToChoose: route('GET', '/api/work/:copyId/groups', 'student', 'With whom one can work', {
    params: ofCopy,
    reply: GroupsToChoose,
  }),
  joinGroup: route('POST', '/api/work/:copyId/groups', 'student', 'Work with others, or alone again', {
    params: ofCopy,
    body: z.object({ to: CopyId.nullable() }),
    reply: z.object({ copyId: CopyId }),
  }),
} as const;
