import type { togetherRoutes } from '@jotmark/core';
import { readAssignment } from '../assignment/edit.ts';
import { groupsToChoose, joinGroup, moveMember, saveTogether } from '../assignment/together.ts';
import type { HandlersOf, Parts } from './handler.ts';

/** Working together: who shares a copy. */
export function togetherHandlers({ house }: Parts): HandlersOf<typeof togetherRoutes> {
  return {
    saveTogether: async ({ person, params, body }) => {
      await saveTogether(house, params.assignmentId, body.together);
      return readAssignment(house, person, params.assignmentId);
    },
    moveMember: async ({ person, params, body }) => {
      await moveMember(house, params.assignmentId, body.personId, body.to);
      return readAssignment(house, person, params.assignmentId);
    },
    groupsToChoose: ({ person, params }) => groupsToChoose(house, person, params.copyId),
    joinGroup: async ({ person, params, body }) => ({
      copyId: await joinGroup(house, person, params.copyId, body.to),
    }),
  };
}
