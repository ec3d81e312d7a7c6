import {
  type BodyOf,
  openApi,
  type ParamsOf,
  type Person,
  type QueryOf,
  type ReplyOf,
  type RouteName,
  type Routes,
} from '@jotmark/core';
import type { Request, Response } from 'express';
import { documentPages, documentText, turnPages } from '../documents/document.ts';
import { receiveFile } from '../files/receive.ts';
import { sendPdf } from '../files/serve.ts';
import { handBack } from '../handback/hand-back.ts';
import { ownHandBack } from '../handback/read.ts';
import { handIn } from '../handin/hand-in.ts';
import type { House } from '../house.ts';
import type { Opener } from '../jobs/opener.ts';
import { orderJob, PROGRESS_COLUMNS, progressOf, retryJob } from '../jobs/queue.ts';
import { openDesk } from '../marking/desk.ts';
import { changesSince, takeChanges, teachesHandIn } from '../marking/take-changes.ts';
import { maySeeDocument, ownsCopy, teachesAssignment, teachesCopy } from '../people/access.ts';
import { demoPeople } from '../people/demo.ts';
import { signIn } from '../people/person.ts';
import { endSession, type SignedIn } from '../people/session.ts';
import { readPile } from '../pile/pile.ts';
import { readToday } from '../pile/today.ts';
import { layReady, takeAway } from '../work/file.ts';
import { readWork, workList } from '../work/work.ts';
import { Fault } from './fault.ts';

export interface Parts {
  readonly house: House;
  readonly opener: Opener;
  /** Wakes whoever works on jobs. */
  readonly nudge: () => void;
}

export interface Call<N extends RouteName> {
  readonly params: ParamsOf<Routes[N]>;
  readonly query: QueryOf<Routes[N]>;
  readonly body: BodyOf<Routes[N]>;
  /** Set on every route that is not for anyone. */
  readonly person: Person;
  readonly signedIn: SignedIn | null;
  readonly req: Request;
  readonly res: Response;
}

/** A handler for every route of the contract: the compiler sees to it that none is missing. Bytes go straight to `res`. */
export type Handlers = {
  readonly [N in RouteName]: (call: Call<N>) => Promise<ReplyOf<Routes[N]> | undefined>;
};

const OK = { ok: true } as const;

export function makeHandlers({ house, opener, nudge }: Parts): Handlers {
  const session = async (signedIn: SignedIn | null) => ({
    person: signedIn?.person ?? null,
    token: signedIn?.token ?? '',
    school: house.settings.school,
    demo: signedIn ? null : await demoPeople(house),
  });

  return {
    health: async () => {
      await house.db.query('SELECT 1');
      return OK;
    },
    openapi: async () => openApi('0.1.0'),

    session: async ({ signedIn }) => session(signedIn),
    signIn: async ({ body, res }) => session(await signIn(house, body, res)),
    signOut: async ({ req, res }) => {
      await endSession(house, req, res);
      return OK;
    },

    today: async ({ person }) => readToday(house, person),
    pile: async ({ person, params }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return readPile(house, params.assignmentId);
    },
    handBack: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return handBack(house, person, params.assignmentId, body.copyIds);
    },
    desk: async ({ person, params }) => {
      await teachesCopy(house, person, params.copyId);
      return openDesk(house, params.copyId);
    },
    sendChanges: async ({ person, params, body }) =>
      takeChanges(house, person, params.handInId, body.changes),
    changesSince: async ({ person, params, query }) => {
      await teachesHandIn(house.db, person, params.handInId);
      return changesSince(house, params.handInId, query.after);
    },
    turnPages: async ({ person, params, body }) => {
      await maySeeDocument(house, person, params.documentId);
      await turnPages(house, params.documentId, body.turns);
      return OK;
    },

    documentPages: async ({ person, params }) => {
      await maySeeDocument(house, person, params.documentId);
      return documentPages(house, params.documentId, person.role === 'teacher');
    },
    documentText: async ({ person, params }) => {
      await maySeeDocument(house, person, params.documentId);
      return documentText(house, params.documentId);
    },
    documentFile: async ({ person, params, req, res }) => {
      await maySeeDocument(house, person, params.documentId);
      const [row] = await house.db.query('SELECT sha256 FROM document WHERE id = ?', [params.documentId]);
      await sendPdf(house, req, res, row.sha256, null);
      return undefined;
    },

    workList: async ({ person }) => workList(house, person),
    work: async ({ person, params }) => {
      await ownsCopy(house, person, params.copyId);
      return readWork(house, params.copyId);
    },
    addFile: async ({ person, params, req, res }) => {
      await ownsCopy(house, person, params.copyId);
      const state = await receiveFile(req, res, (file) => layReady(house, opener, params.copyId, file));
      nudge();
      return state;
    },
    removeFile: async ({ person, params }) => {
      await ownsCopy(house, person, params.copyId);
      await takeAway(house, params.copyId);
      return OK;
    },
    handIn: async ({ person, params, body }) => {
      await ownsCopy(house, person, params.copyId);
      await handIn(house, params.copyId, body.documentId);
      return readWork(house, params.copyId);
    },
    makePdf: async ({ person, params }) => {
      await ownHandBack(house, person, params.handBackId);
      const jobId = await orderJob(house, house.db.manager, 'hand-back-pdf', params.handBackId);
      await retryJob(house.db.manager, 'hand-back-pdf', params.handBackId);
      nudge();
      const [row] = await house.db.query(`SELECT ${PROGRESS_COLUMNS} FROM job j WHERE j.id = ?`, [jobId]);
      return { jobId, progress: progressOf(row) };
    },
    pdfFile: async ({ person, params, req, res }) => {
      await ownHandBack(house, person, params.handBackId);
      const [row] = await house.db.query('SELECT sha256, name FROM hand_back_pdf WHERE hand_back_id = ?', [
        params.handBackId,
      ]);
      if (!row) throw new Fault('not-found');
      await sendPdf(house, req, res, row.sha256, row.name);
      return undefined;
    },
  };
}
