import type { deskRoutes } from '@jotmark/core';
import { sendFile } from '../blobs/send.ts';
import { HandInTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { besideDesk } from '../desk/beside.ts';
import { Fault } from '../fault.ts';
import { keepFocuses, readFocuses } from '../people/focuses.ts';
import { keepPicture } from '../people/pictures.ts';
import { keepTrays, readTrays } from '../people/trays.ts';
import { orderArrival } from '../tasks/arrive.ts';
import { orderBringIn } from '../tasks/bring-in.ts';
import { orderMarkedPdf } from '../tasks/marked-pdf.ts';
import type { HandlersOf, Parts } from './handler.ts';
import { orderedBy } from './ordered.ts';
import { receiveFile } from './receive.ts';

/** The teacher's pens, what goes out and comes in at the desk, and the line on which a desk hears of others' marks. */
export function deskHandlers(parts: Parts): HandlersOf<typeof deskRoutes> {
  const { house, hub, deskLine, bankLine } = parts;
  return {
    trays: ({ person }) => readTrays(house, person),
    keepTrays: ({ person, body }) => keepTrays(house, person, body),
    focuses: ({ person }) => readFocuses(house, person),
    keepFocuses: ({ person, body }) => keepFocuses(house, person, body.focuses, body.renamed),
    addHelpFile: ({ person, req, res }) =>
      orderedBy(
        parts,
        receiveFile(req, res, (file) =>
          orderArrival(house, person, { at: 'help', ownerId: person.id }, [file]),
        ),
      ),
    deskLive: async ({ person, params, res }) => {
      const handIn = await find(house.db.manager, HandInTable, { id: params.handInId });
      if (!handIn) throw new Fault('not-found');
      // A hand-in that is taken back, or another that comes in, is heard of on the same line.
      await hub.listen(res, (event) => event.copy_id === handIn.copyId && event.kind === 'hand-in');
      deskLine.add(res, params.handInId);
      // On the same line: a browser opens few to one server.
      bankLine.add(res, person.id);
      return undefined;
    },
    beside: ({ params }) => besideDesk(house, params.copyId),
    markedPdf: ({ person, params, body }) =>
      orderedBy(parts, orderMarkedPdf(house, person, params.handInId, body.as)),
    bringInAny: ({ person, params, req, res }) =>
      orderedBy(
        parts,
        receiveFile(req, res, (file) =>
          orderBringIn(house, person, { assignmentId: params.assignmentId }, file),
        ),
      ),
    bringIn: ({ person, params, req, res }) =>
      orderedBy(
        parts,
        receiveFile(req, res, (file) => orderBringIn(house, person, { handInId: params.handInId }, file)),
      ),
    keepPicture: async ({ body }) => ({ picture: await keepPicture(house, body.base64) }),
    picture: async ({ params, req, res }) => {
      await sendFile(house, req, res, { sha256: params.picture, type: 'image/png', download: null });
      return undefined;
    },
  };
}
