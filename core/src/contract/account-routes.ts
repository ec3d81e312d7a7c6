import * as z from 'zod';
import { route } from './route.ts';
import { Moment } from './shapes.ts';

/** Of one browser that is signed in: what is told of it is no secret of its own. */
const SessionId = z.string().regex(/^[0-9a-f]{24}$/);
/** Six digits that an app on a phone shows. */
export const StepCode = z
  .string()
  .trim()
  .regex(/^\d{6}$/, 'six digits');

export const OwnSession = z.object({
  id: SessionId,
  /** Which browser on what; empty: it does not say. */
  device: z.string(),
  begunAt: Moment.nullable(),
  usedAt: Moment.nullable(),
  /** It is the one that asks. */
  here: z.boolean(),
});
export type OwnSession = z.infer<typeof OwnSession>;

export const Account = z.object({
  sessions: z.array(OwnSession),
  step: z.object({ allowed: z.boolean(), required: z.boolean(), on: z.boolean() }),
});
export type Account = z.infer<typeof Account>;

/** One's own account: where one is signed in, and a second step at signing in. */
export const accountRoutes = {
  account: route('GET', '/api/account', 'person', 'Where I am signed in, and how I sign in', {
    reply: Account,
  }),
  endSession: route('POST', '/api/account/sessions/:sessionId/end', 'person', 'Sign one other device out', {
    params: z.object({ sessionId: SessionId }),
  }),
  endOtherSessions: route('POST', '/api/account/sessions/end', 'person', 'Sign every other device out'),
  deviceKey: route('GET', '/api/account/device-key', 'person', 'What locks my unsent work on a device', {
    reply: z.object({
      /** 256 bits, base64. */
      key: z.string(),
    }),
  }),
  startStep: route('POST', '/api/account/second-step', 'person', 'Begin a second step: what an app needs', {
    body: z.object({ password: z.string().min(1).max(200) }),
    reply: z.object({
      /** What the app makes its codes from, in base 32, to be typed. */
      seed: z.string(),
      address: z.string(),
    }),
  }),
  confirmStep: route(
    'POST',
    '/api/account/second-step/confirm',
    'person',
    'The app shows this code: from now on one is asked for',
    { body: z.object({ code: StepCode }) },
  ),
  dropStep: route('POST', '/api/account/second-step/drop', 'person', 'No second step any more', {
    body: z.object({ password: z.string().min(1).max(200) }),
  }),
} as const;
