import type { backRoutes } from '@jotmark/core';
import { Fault } from '../fault.ts';
import { asStudent } from '../hand-back/as-student.ts';
import { handBackSoon, orderHandBack, undoOrder } from '../hand-back/at-time.ts';
import { checkHandBack } from '../hand-back/check.ts';
import { handBack } from '../hand-back/hand-back.ts';
import { keepOpened } from '../hand-back/opened.ts';
import { handBackAsItWent } from '../hand-back/read.ts';
import { changeAgain, recall } from '../hand-back/recall.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** Handing back, before and after. */
export function backHandlers(parts: Parts): HandlersOf<typeof backRoutes> {
  const { house, nudge } = parts;
  return {
    handBack: async ({ person, params, body: { copyIds, how, at } }) => {
      const { assignmentId } = params;
      if (at !== null) {
        const order = await orderHandBack(house, person, { assignmentId, copyIds, how, at, soon: false });
        return { handedBack: [], kept: [], order };
      }
      const went = await handBack(house, person, assignmentId, copyIds, how);
      nudge();
      return { ...went, order: null };
    },
    handBackSoon: ({ person, params, body }) => handBackSoon(house, person, params.assignmentId, body.copyId),
    undoHandBack: ({ params }) => done(undoOrder(house, params.orderId)),
    checkHandBack: ({ person, params, body }) =>
      checkHandBack(house, person, params.assignmentId, body.copyIds),
    asStudent: ({ person, params, body }) => asStudent(house, person, params.copyId, body.how),
    handBackAsItWent: async ({ person, params }) => {
      const back = await handBackAsItWent(house.db.manager, params.handBackId, person);
      if (!back) throw new Fault('not-found');
      return back;
    },
    recall: async ({ person, params, body }) => {
      const answer = await recall(house, person, params.assignmentId, body.copyIds, body);
      nudge();
      return answer;
    },
    changeAgain: ({ params }) => done(changeAgain(house, params.copyId)),
    opened: ({ person, params, body }) => keepOpened(house, person, params.handBackId, body.marks),
  };
}
