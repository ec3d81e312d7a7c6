import type { schoolRoutes } from '@jotmark/core';
import { answerConsent, askConsent, consentsFor } from '../register/consent.ts';
import { askToJoin, setJoinCode } from '../register/join.ts';
import { mergePeople } from '../register/merge.ts';
import { addStaff, correctPerson, resetPerson, schoolActs, schoolPeople } from '../register/school.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** What the school's administrators do, and consent to somebody's being taken into a class. */
export function schoolHandlers({ house }: Parts): HandlersOf<typeof schoolRoutes> {
  return {
    schoolPeople: ({ query }) => schoolPeople(house, query),
    addStaff: ({ body }) => addStaff(house, body),
    correctPerson: ({ params, body }) => done(correctPerson(house, params.personId, body)),
    resetPerson: ({ person, params }) => resetPerson(house, person, params.personId),
    mergePeople: ({ params, body }) => mergePeople(house, params.personId, body.gone, body.look),
    schoolActs: () => schoolActs(house),
    consents: ({ person }) => consentsFor(house, person),
    askConsent: ({ person, params, body }) => askConsent(house, person, params.classId, body.login),
    answerConsent: ({ person, params, body }) => answerConsent(house, person, params.consentId, body.granted),
    joinCode: async ({ params, body }) => ({ code: await setJoinCode(house, params.classId, body.on) }),
    askToJoin: ({ person, body }) => askToJoin(house, person, body.code),
  };
}
