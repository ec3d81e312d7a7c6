import type { deskRoutes } from '@jotmark/core';
import { receiveFile } from './receive.ts';
import { besideDesk } from '../desk/beside.ts';
import { bringIn, bringInAny } from '../tasks/bring-in.ts';
import { sendMarkedPdf } from '../tasks/marked-pdf.ts';
import { teachesHandIn } from '../marking/take-changes.ts';
import { teachesAssignment, teachesCopy } from '../people/access.ts';
import { keepTrays, readTrays } from '../people/trays.ts';
import type { HandlersOf, Parts } from './handler.ts';

/** The teacher's pens, and the line on which a desk hears of others' marks. */
export function deskHandlers({ house, opener, deskLine }: Parts): HandlersOf<typeof deskRoutes> {
  return {
    trays: ({ person }) => readTrays(house, person),
    keepTrays: ({ person, body }) => keepTrays(house, person, body),
    deskLive: async ({ person, params, res }) => {
      await teachesHandIn(house.db, person, params.handInId);
      deskLine.listen(res, params.handInId);
      return undefined;
    },
    beside: async ({ person, params }) => {
      await teachesCopy(house, person, params.copyId);
      return besideDesk(house, params.copyId);
    },
    markedPdf: async ({ person, params, query, res }) => {
      await teachesHandIn(house.db, person, params.handInId);
      await sendMarkedPdf(house, opener, person, params.handInId, query.as, res);
      return undefined;
    },
    bringInAny: async ({ person, params, req, res }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return receiveFile(req, res, (file) => bringInAny(house, opener, params.assignmentId, file));
    },
    bringIn: async ({ person, params, req, res }) => {
      await teachesHandIn(house.db, person, params.handInId);
      return receiveFile(req, res, (file) => bringIn(house, opener, params.handInId, file));
    },
  };
}
