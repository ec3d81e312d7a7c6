import type { workRoutes } from '@jotmark/core';
import { addMessage, markRead, readConversation, unreadOf } from '../conversation/messages.ts';
import { copyChangesSince, takeCopyChanges } from '../copy/take-changes.ts';
import { receiveFile } from './receive.ts';
import { handIn } from '../hand-in/hand-in.ts';
import { takeBack } from '../hand-in/take-back.ts';
import { ownsCopy, sharesCopy } from '../people/access.ts';
import { setHere } from '../room/room.ts';
import { addFile, addLink, orderFiles, takeAway } from '../copy/files.ts';
import { markSeen, readWork, workList } from '../work/work.ts';
import { type HandlersOf, OK, type Parts } from './handler.ts';

/** What students do with their copies, and the conversation on them. */
export function workHandlers({ house, opener, nudge }: Parts): HandlersOf<typeof workRoutes> {
  return {
    workList: async ({ person }) => workList(house, person),
    work: async ({ person, params }) => {
      await ownsCopy(house, person, params.copyId);
      const work = await readWork(house, person, params.copyId);
      if (work.row.changed) await markSeen(house, params.copyId);
      return work;
    },
    sendCopyChanges: async ({ person, params, body }) => {
      await ownsCopy(house, person, params.copyId);
      return takeCopyChanges(house, params.copyId, body.changes);
    },
    copyChangesSince: async ({ person, params, query }) => {
      await ownsCopy(house, person, params.copyId);
      // An open copy asks every few seconds: that is the sign that somebody is here.
      await setHere(house, params.copyId, true);
      return copyChangesSince(house, params.copyId, query.after);
    },
    addFile: async ({ person, params, req, res }) => {
      await ownsCopy(house, person, params.copyId);
      const state = await receiveFile(req, res, (file) => addFile(house, opener, params.copyId, file));
      nudge();
      return state;
    },
    addLink: async ({ person, params, body }) => {
      await ownsCopy(house, person, params.copyId);
      return addLink(house, params.copyId, body.url, body.name);
    },
    removeFile: async ({ person, params }) => {
      await ownsCopy(house, person, params.copyId);
      await takeAway(house, params.copyId, params.documentId);
      return OK;
    },
    orderFiles: async ({ person, params, body }) => {
      await ownsCopy(house, person, params.copyId);
      await orderFiles(house, params.copyId, body.order);
      return OK;
    },
    handIn: async ({ person, params, body }) => {
      await ownsCopy(house, person, params.copyId);
      await handIn(house, person, params.copyId, body);
      nudge();
      return readWork(house, person, params.copyId);
    },
    takeBack: async ({ person, params }) => {
      await ownsCopy(house, person, params.copyId);
      await takeBack(house, params.copyId);
      return readWork(house, person, params.copyId);
    },

    messages: async ({ person, params }) => {
      await sharesCopy(house, person, params.copyId);
      return readConversation(house, person, params.copyId);
    },
    say: async ({ person, params, body }) => {
      await sharesCopy(house, person, params.copyId);
      await addMessage(house, house.db.manager, {
        ...body,
        copyId: params.copyId,
        by: person.id,
        cover: false,
      });
      return readConversation(house, person, params.copyId);
    },
    readMessages: async ({ person, params, body }) => {
      await sharesCopy(house, person, params.copyId);
      await markRead(house, person, params.copyId, body.at);
      return OK;
    },
    unread: async ({ person }) => unreadOf(house, person),
  };
}
