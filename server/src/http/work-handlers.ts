import type { workRoutes } from '@jotmark/core';
import {
  addMessage,
  editMessage,
  markRead,
  readConversation,
  withdrawMessage,
} from '../conversation/messages.ts';
import { unreadOf } from '../conversation/unread.ts';
import { lockOwnCopy } from '../copy/away.ts';
import { copyChangesSince } from '../copy/changes-since.ts';
import { addLink, orderFiles, takeAway } from '../copy/files.ts';
import { takeCopyChanges } from '../copy/take-changes.ts';
import { inTransaction } from '../database/transaction.ts';
import { handIn } from '../hand-in/hand-in.ts';
import { takeBack } from '../hand-in/take-back.ts';
import { sawCopy } from '../news/read.ts';
import { setHere } from '../room/room.ts';
import { orderArrival } from '../tasks/arrive.ts';
import { markSeen, readWork, workList } from '../work/work.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';
import { orderedBy } from './ordered.ts';
import { receiveFile } from './receive.ts';

/** What a student has read of who opened the copy itself. */
const ON_OPENING = [
  'set',
  'changed',
  'new-date',
  'due-tomorrow',
  'handed-back',
  'unfinished',
  'midway',
  'recalled',
] as const;

/** What students do with their copies, and the conversation on them. */
export function workHandlers(parts: Parts): HandlersOf<typeof workRoutes> {
  const { house, hub, nudge } = parts;
  return {
    workList: ({ person }) => workList(house, person),
    work: async ({ person, params }) => {
      const work = await readWork(house, person, params.copyId);
      if (work.row.changed) await markSeen(house, params.copyId);
      await sawCopy(house, person, params.copyId, ON_OPENING);
      return work;
    },
    sendCopyChanges: async ({ person, params, body }) => {
      const answer = await takeCopyChanges(house, params.copyId, body.changes, person.id);
      if (body.changes.some((c) => c.type === 'text')) hub.soon();
      return answer;
    },
    copyChangesSince: async ({ params, query }) => {
      // An open copy asks every few seconds: that is the sign that somebody is here.
      await setHere(house, params.copyId, true);
      return copyChangesSince(house, params.copyId, query.after);
    },
    addFile: async ({ person, params, req, res }) => {
      // Asked before the file is received: nobody waits for an upload that cannot be taken.
      await inTransaction(house.db, (tx) => lockOwnCopy(tx, params.copyId));
      return orderedBy(
        parts,
        receiveFile(req, res, (file) =>
          orderArrival(house, person, { at: 'copy', copyId: params.copyId }, [file]),
        ),
      );
    },
    addTextPicture: async ({ person, params, req, res }) => {
      await inTransaction(house.db, (tx) => lockOwnCopy(tx, params.copyId));
      return orderedBy(
        parts,
        receiveFile(req, res, (file) =>
          orderArrival(house, person, { at: 'text', copyId: params.copyId }, [file]),
        ),
      );
    },
    addLink: ({ params, body }) => addLink(house, params.copyId, body.url, body.name),
    removeFile: ({ params }) => done(takeAway(house, params.copyId, params.documentId)),
    orderFiles: ({ params, body }) => done(orderFiles(house, params.copyId, body.order)),
    handIn: async ({ person, params, body }) => {
      await handIn(house, person, params.copyId, body);
      nudge();
      return readWork(house, person, params.copyId);
    },
    takeBack: async ({ person, params }) => {
      await takeBack(house, params.copyId);
      return readWork(house, person, params.copyId);
    },

    messages: ({ person, params }) => readConversation(house, person, params.copyId),
    say: async ({ person, params, body }) => {
      await addMessage(house, house.db.manager, {
        ...body,
        copyId: params.copyId,
        by: person.id,
        cover: false,
      });
      return readConversation(house, person, params.copyId);
    },
    editMessage: async ({ person, params, body }) => {
      await editMessage(house, person, params.copyId, params.messageId, body.words);
      return readConversation(house, person, params.copyId);
    },
    withdrawMessage: async ({ person, params }) => {
      await withdrawMessage(house, person, params.copyId, params.messageId);
      return readConversation(house, person, params.copyId);
    },
    readMessages: ({ person, params, body }) => done(markRead(house, person, params.copyId, body.at)),
    unread: ({ person }) => unreadOf(house, person),
  };
}
