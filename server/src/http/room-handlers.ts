import type { roomRoutes } from '@jotmark/core';
import { ownsCopy, sharesCopy, teachesAssignment, teachesCopy } from '../people/access.ts';
import { lookClosely, readRoom, sayToMany, setHere } from '../room/room.ts';
import { readTrail } from '../trail/trail.ts';
import { type HandlersOf, OK, type Parts } from './handler.ts';

/** The class at work: the room, words at once, and how a copy came to be. */
export function roomHandlers({ house, hub }: Parts): HandlersOf<typeof roomRoutes> {
  return {
    room: async ({ person, params, query }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return readRoom(house, person, params.assignmentId, query.copies ?? null);
    },
    roomLive: async ({ person, params, res }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await hub.listen(res, (event) => event.assignment_id === params.assignmentId);
      return undefined;
    },
    copyLive: async ({ person, params, res }) => {
      await ownsCopy(house, person, params.copyId);
      await setHere(house, params.copyId, true);
      await hub.listen(
        res,
        (event) => event.copy_id === params.copyId && event.kind !== 'here',
        () => void setHere(house, params.copyId, false).catch(() => {}),
      );
      return undefined;
    },
    closeLook: async ({ person, params }) => {
      await teachesCopy(house, person, params.copyId);
      return lookClosely(house, person, params.copyId);
    },
    sayToMany: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await sayToMany(house, person, params.assignmentId, body.words, body.to);
      return OK;
    },
    trail: async ({ person, params }) => {
      await sharesCopy(house, person, params.copyId);
      return readTrail(house, person, params.copyId);
    },
  };
}
