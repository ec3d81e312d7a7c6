import type { deskRoutes } from '@jotmark/core';
import { teachesHandIn } from '../marking/take-changes.ts';
import { keepTrays, readTrays } from '../people/trays.ts';
import type { HandlersOf, Parts } from './handler.ts';

/** The teacher's pens, and the line on which a desk hears of others' marks. */
export function deskHandlers({ house, deskLine }: Parts): HandlersOf<typeof deskRoutes> {
  return {
    trays: ({ person }) => readTrays(house, person),
    keepTrays: ({ person, body }) => keepTrays(house, person, body),
    deskLive: async ({ person, params, res }) => {
      await teachesHandIn(house.db, person, params.handInId);
      deskLine.listen(res, params.handInId);
      return undefined;
    },
  };
}
