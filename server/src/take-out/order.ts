import type { JobId, OutOrder, Person } from '@jotmark/core';
import { OutOrder as OutOrderSchema, PersonId } from '@jotmark/core';
import * as z from 'zod';
import type { House } from '../house.ts';
import { orderJob } from '../jobs/queue.ts';
import { mustTeachAssignment, mustTeachClass, mustTeachHandIn } from '../people/access.ts';

/** What the job is told: who asks is who may see it. */
export const OutInput = z.discriminatedUnion('by', [
  z.object({ by: z.literal('teacher'), personId: PersonId, author: z.string(), order: OutOrderSchema }),
  z.object({ by: z.literal('student'), personId: PersonId }),
]);
export type OutInput = z.infer<typeof OutInput>;

/** Files of many copies go behind what is small. */
const MANY_BYTES = 200 * 1024 ** 2;
const SMALL: ReadonlySet<OutOrder['what']> = new Set(['mark-book', 'logs', 'log', 'log-sheet', 'scores']);

/** Orders something that a teacher may see as a file. Throws `not-found` for what they may not. */
export async function orderOut(house: House, person: Person, order: OutOrder): Promise<JobId> {
  if ('classId' in order) await mustTeachClass(house, person, order.classId);
  else if ('handInId' in order) await mustTeachHandIn(house, person, order.handInId);
  else await mustTeachAssignment(house, person, order.assignmentId);
  const author = `${person.given} ${person.family}`.trim();
  return put(house, person, { by: 'teacher', personId: person.id, author, order }, SMALL.has(order.what));
}

export const orderMine = (house: House, person: Person): Promise<JobId> =>
  put(house, person, { by: 'student', personId: person.id }, false);

const put = (house: House, person: Person, input: OutInput, small: boolean): Promise<JobId> =>
  orderJob(house, house.db.manager, {
    kind: 'out',
    subject: null,
    personId: person.id,
    awaited: true,
    size: small ? 0 : MANY_BYTES,
    input,
  });
