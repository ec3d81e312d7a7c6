import * as z from 'zod';
import { ClassId, PersonId } from '../ids/id.ts';
import { FeedbackLog } from '../log/entry.ts';
import { Digest } from '../versions/digest.ts';
import { Bytes, route } from './route.ts';

export const OpenToken = z.string().regex(/^[A-Za-z0-9_-]{32}$/);
const ofToken = z.object({ token: OpenToken });
/** Null: only tell how it is. */
const How = z.object({ open: z.boolean().nullable() });
const Told = z.object({ token: OpenToken.nullable() });

/** A student's log as the family reads it. */
export const FamilyLog = z.object({ school: z.string(), log: FeedbackLog });
export type FamilyLog = z.infer<typeof FamilyLog>;

/** What whoever has an address may read, until it is revoked. */
export const openRoutes = {
  logAddress: route(
    'POST',
    '/api/classes/:classId/logs/:personId/address',
    'teacher',
    'Make an address by which the family reads a log, or revoke it',
    { params: z.object({ classId: ClassId, personId: PersonId }), body: How, reply: Told },
  ),
  calendarAddress: route(
    'POST',
    '/api/calendar',
    'person',
    'Make an address of the due dates of a class, or revoke it',
    { body: How.extend({ classId: ClassId }), reply: Told },
  ),
  familyLog: route('GET', '/api/open/:token/log', 'anyone', 'A student’s log, for the family', {
    params: ofToken,
    reply: FamilyLog,
  }),
  familyVoice: route('GET', '/api/open/:token/voice/:file', 'anyone', 'What was said in such a log', {
    params: z.object({ token: OpenToken, file: Digest }),
    query: z.object({ plain: z.literal('1').optional() }),
    reply: Bytes,
    sends: 'bytes',
  }),
  calendar: route('GET', '/api/open/:token/due.ics', 'anyone', 'Due dates as iCalendar', {
    params: ofToken,
    reply: Bytes,
    sends: 'bytes',
  }),
} as const;
