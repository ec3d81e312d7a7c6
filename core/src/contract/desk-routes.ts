import * as z from 'zod';
import { HandInId } from '../ids/id.ts';
import { Trays } from '../pens/trays.ts';
import { Bytes, route } from './route.ts';

/** What belongs to the teacher's desk and not to one marking: pens, and the line on which others' marks are heard of. */
export const deskRoutes = {
  trays: route(
    'GET',
    '/api/trays',
    'teacher',
    'One’s own pen trays; the starter trays as long as none were changed',
    {
      reply: Trays,
    },
  ),
  keepTrays: route('PUT', '/api/trays', 'teacher', 'Keeps all of one’s own pen trays as they are now', {
    body: Trays,
    reply: Trays,
  }),
  deskLive: route(
    'GET',
    '/api/hand-ins/:handInId/live',
    'teacher',
    'The number of the newest change to a marking, whenever it goes up',
    { params: z.object({ handInId: HandInId }), reply: Bytes, sends: 'bytes' },
  ),
} as const;
