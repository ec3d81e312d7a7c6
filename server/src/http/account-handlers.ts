import type { accountRoutes } from '@jotmark/core';
import { deviceKeyOf } from '../people/device-key.ts';
import { confirmStep, dropStep, startStep } from '../people/second-step.ts';
import { endOthers, sessionsOf } from '../people/session.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** One's own account. */
export function accountHandlers({ house }: Parts): HandlersOf<typeof accountRoutes> {
  return {
    account: async ({ signedIn, person }) => ({
      sessions: await sessionsOf(house, signedIn!),
      step: {
        allowed: house.settings.secondStep !== 'off' && person.role !== 'student',
        required: house.settings.secondStep === 'required' && person.role !== 'student',
        on: signedIn!.stepOn,
      },
    }),
    endSession: ({ signedIn, params }) => done(endOthers(house, signedIn!, params.sessionId)),
    endOtherSessions: ({ signedIn }) => done(endOthers(house, signedIn!, null)),
    deviceKey: async ({ person }) => ({ key: await deviceKeyOf(house, person) }),
    startStep: ({ person, body }) => startStep(house, person, body.password),
    confirmStep: ({ person, body }) => done(confirmStep(house, person, body.code)),
    dropStep: ({ person, body }) => done(dropStep(house, person, body.password)),
  };
}
