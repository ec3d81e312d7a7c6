import type { forStudentRoutes } from '@jotmark/core';
import { lockOwnCopy } from '../copy/away.ts';
import { inTransaction } from '../database/transaction.ts';
import { handInFor, undoHandInFor } from '../hand-in/for-student.ts';
import { orderArrival } from '../tasks/arrive.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';
import { orderedBy } from './ordered.ts';
import { receiveFile } from './receive.ts';

/** Work that a teacher brings in for a student. */
export function forStudentHandlers(parts: Parts): HandlersOf<typeof forStudentRoutes> {
  const { house, nudge } = parts;
  return {
    addFileFor: async ({ person, params: { copyId }, req, res }) => {
      // Asked before the file is received: nobody waits for an upload that cannot be taken.
      await inTransaction(house.db, (tx) => lockOwnCopy(tx, copyId));
      return orderedBy(
        parts,
        receiveFile(req, res, (file) =>
          orderArrival(house, person, { at: 'for-student', ownerId: person.id }, [file]),
        ),
      );
    },
    handInFor: ({ person, params, body: { id, documents, onTime } }) =>
      done(handInFor(house, person, params.copyId, id, { documents, onTime }).then(nudge)),
    undoHandInFor: ({ person, params }) => done(undoHandInFor(house, person, params.copyId, params.handInId)),
  };
}
