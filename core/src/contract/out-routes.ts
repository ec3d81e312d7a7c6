import * as z from 'zod';
import { OutOrder } from '../out/order.ts';
import { route } from './route.ts';
import { Ordered } from './shapes.ts';

/** What is taken out of Jotmark as a file: ordered here, fetched when its job is done. */
export const outRoutes = {
  takeOut: route('POST', '/api/out', 'teacher', 'Order a file of what one may see', {
    body: z.object({ order: OutOrder }),
    limit: 256 * 1024,
    reply: Ordered,
  }),
  takeOutMine: route('POST', '/api/out/mine', 'student', 'Order all of my own work as one file', {
    reply: Ordered,
  }),
} as const;
