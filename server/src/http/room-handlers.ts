import type { roomRoutes } from '@jotmark/core';
import { lookClosely, readRoom, sayToMany, setHere } from '../room/room.ts';
import { readTrail } from '../trail/trail.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** The class at work: the room, words at once, and how a copy came to be. */
export function roomHandlers({ house, hub }: Parts): HandlersOf<typeof roomRoutes> {
  return {
    room: ({ person, params, query }) => readRoom(house, person, params.assignmentId, query.copies ?? null),
    roomLive: async ({ params, res }) => {
      await hub.listen(res, (event) => event.assignment_id === params.assignmentId);
      return undefined;
    },
    copyLive: async ({ params, res }) => {
      await setHere(house, params.copyId, true);
      await hub.listen(
        res,
        (event) => event.copy_id === params.copyId && event.kind !== 'here',
        () => void setHere(house, params.copyId, false).catch(() => {}),
      );
      return undefined;
    },
    closeLook: ({ person, params }) => lookClosely(house, person, params.copyId),
    sayToMany: ({ person, params, body }) =>
      done(sayToMany(house, person, params.assignmentId, body.words, body.to)),
    trail: ({ person, params }) => readTrail(house, person, params.copyId),
  };
}
