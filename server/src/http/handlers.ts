import { type CopyId, type DocumentId, type DocumentState, openApi, type Person } from '@jotmark/core';
import { setBlind, setPileTerms } from '../assignment/edit.ts';
import { sendFile, sendKeptJson } from '../blobs/send.ts';
import { databaseNow } from '../database/clock.ts';
import { type DocumentRow, DocumentTable, HandInDocumentTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { openDesk } from '../desk/desk.ts';
import { documentPages, readAgain, textKept, turnPages } from '../document/pages.ts';
import { blindState } from '../document/state.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { changesSince, leaveAt } from '../marking/changes-since.ts';
import { recomputeAll } from '../marking/scored.ts';
import { takeChanges } from '../marking/take-changes.ts';
import { sawCopy } from '../news/read.ts';
import { demoPeople } from '../people/demo.ts';
import { resetOf } from '../people/resets.ts';
import { endSession, needsStep, type SignedIn } from '../people/session.ts';
import { signIn } from '../people/sign-in.ts';
import { blindFileName, whose } from '../people/students.ts';
import { readPile } from '../pile/pile.ts';
import { orderHandBackPdf, pdfFor } from '../tasks/hand-back-pdf.ts';
import { orderZip } from '../tasks/zip-originals.ts';
import { readToday } from '../today/today.ts';
import { accountHandlers } from './account-handlers.ts';
import { backHandlers } from './back-handlers.ts';
import { bankHandlers } from './bank-handlers.ts';
import { bookHandlers } from './book-handlers.ts';
import { classHandlers } from './class-handlers.ts';
import { deskHandlers } from './desk-handlers.ts';
import { forStudentHandlers } from './for-student-handlers.ts';
import { done, type Handlers, type Parts } from './handler.ts';
import { logHandlers, outHandlers } from './log-handlers.ts';
import { newsHandlers } from './news-handlers.ts';
import { openHandlers } from './open-handlers.ts';
import { jobHandlers, orderedBy } from './ordered.ts';
import { roomHandlers } from './room-handlers.ts';
import { schoolHandlers } from './school-handlers.ts';
import { scoreHandlers } from './score-handlers.ts';
import { settingHandlers } from './setting-handlers.ts';
import { togetherHandlers } from './together-handlers.ts';
import { voiceHandlers } from './voice-handlers.ts';
import { workHandlers } from './work-handlers.ts';

export function makeHandlers(parts: Parts): Handlers {
  const { house, nudge } = parts;
  const session = async (signedIn: SignedIn | null) => ({
    person: signedIn?.person ?? null,
    token: signedIn?.token ?? '',
    firstPassword: signedIn?.firstPassword ?? false,
    reset: signedIn?.firstPassword ? await resetOf(house, signedIn.person) : null,
    needsStep: signedIn !== null && needsStep(house, signedIn),
    school: house.settings.school,
    demo: signedIn ? null : await demoPeople(house),
    standIns: house.settings.standInDir !== null,
  });

  return {
    health: () => done(databaseNow(house.db)),
    openapi: async () => openApi('0.1.0'),

    session: ({ signedIn }) => session(signedIn),
    signIn: async ({ req, res }) => session(await signIn(house, req, res)),
    signOut: ({ req, res }) => done(endSession(house, req, res)),

    today: ({ person }) => readToday(house, person),
    pile: ({ person, params }) => readPile(house, person, params.assignmentId),
    setBlind: ({ params, body }) => done(setBlind(house, params.assignmentId, body.blind)),
    pileTerms: ({ params, body }) =>
      done(
        setPileTerms(house, params.assignmentId, body.copyIds, body, (tx) =>
          recomputeAll(tx, params.assignmentId),
        ),
      ),
    zipOriginals: ({ person, params, body }) =>
      orderedBy(parts, orderZip(house, person, params.assignmentId, body.copyIds)),
    desk: async ({ person, params }) => {
      const desk = await openDesk(house, params.copyId);
      await sawCopy(house, person, params.copyId, ['handed-in', 'in-again', 'answered']);
      return desk;
    },
    sendChanges: ({ person, params, body }) =>
      takeChanges(house, person, { handInId: params.handInId }, body.changes),
    changesSince: ({ params, query }) => changesSince(house, { handInId: params.handInId }, query.after),
    leaveAt: async ({ params, body }) => ({ kept: await leaveAt(house, params.handInId, body.page) }),
    turnPages: ({ params, body }) => done(turnPages(house, params.documentId, body.turns)),

    documentPages: async ({ person, params }) => {
      const pages = await documentPages(house, params.documentId, person.role === 'teacher');
      return { ...pages, state: await stateBefore(house, person, pages.state) };
    },
    documentText: async ({ params, res }) => {
      await sendKeptJson(house, res, await textKept(house.db.manager, params.documentId));
      return undefined;
    },
    documentAgain: async ({ person, params }) => {
      const state = await readAgain(house, params.documentId);
      nudge();
      return stateBefore(house, person, state);
    },
    documentPicture: async ({ params, req, res }) => {
      const { pictureSha256: sha256 } = await documentRow(house, params.documentId);
      if (!sha256) throw new Fault('not-found');
      await sendFile(house, req, res, { sha256, type: 'image/jpeg', download: null });
      return undefined;
    },
    documentFile: async ({ params, req, res }) => {
      const { sha256, frames } = await documentRow(house, params.documentId);
      // Before it was read, or where that failed, nobody has taken out of it what a page may not do.
      if (!sha256 || !frames) throw new Fault('not-found');
      await sendFile(house, req, res, { sha256, type: 'application/pdf', download: null });
      return undefined;
    },
    documentOriginal: async ({ person, params, req, res }) => {
      const row = await documentRow(house, params.documentId);
      if (!row.originalSha256) throw new Fault('not-found');
      // Asked for by an element of a page it is shown there; followed as a link it is saved.
      const saved = req.get('sec-fetch-dest') === 'document' || req.query.save !== undefined;
      await sendFile(house, req, res, {
        sha256: row.originalSha256,
        type: row.type,
        download: saved ? await nameBefore(house, person, row) : null,
      });
      return undefined;
    },
    documentLink: async ({ params, res }) => {
      const { url } = await documentRow(house, params.documentId);
      if (!url) throw new Fault('not-found');
      res.redirect(url);
      return undefined;
    },

    makePdf: ({ person, params }) => orderedBy(parts, orderHandBackPdf(house, person, params.handBackId)),
    pdfFile: async ({ person, params, req, res }) => {
      const pdf = await pdfFor(house.db.manager, person, params.handBackId);
      if (!pdf) throw new Fault('not-found');
      await sendFile(house, req, res, { sha256: pdf.sha256, type: 'application/pdf', download: pdf.name });
      return undefined;
    },

    ...workHandlers(parts),
    ...classHandlers(parts),
    ...settingHandlers(parts),
    ...roomHandlers(parts),
    ...bankHandlers(parts),
    ...deskHandlers(parts),
    ...voiceHandlers(parts),
    ...scoreHandlers(parts),
    ...backHandlers(parts),
    ...newsHandlers(parts),
    ...forStudentHandlers(parts),
    ...togetherHandlers(parts),
    ...bookHandlers(parts),
    ...logHandlers(parts),
    ...outHandlers(parts),
    ...openHandlers(parts),
    ...accountHandlers(parts),
    ...schoolHandlers(parts),
    ...jobHandlers(parts),
  };
}

async function documentRow(house: House, id: DocumentId): Promise<DocumentRow> {
  const row = await find(house.db.manager, DocumentTable, { id });
  if (!row) throw new Fault('not-found');
  return row;
}

/** A document before this reader: while its copy is blind, a teacher is told neither its name nor its address. */
async function stateBefore(house: House, person: Person, state: DocumentState): Promise<DocumentState> {
  const { copyId } = await documentRow(house, state.id);
  return (await isBlindTo(house, person, copyId)) ? blindState(state, await placeOf(house, state.id)) : state;
}

/** What a file is called before this reader. */
async function nameBefore(house: House, person: Person, row: DocumentRow): Promise<string> {
  if (!(await isBlindTo(house, person, row.copyId))) return row.name;
  return blindFileName(row.name, await placeOf(house, row.id), row.url !== null);
}

const isBlindTo = async (house: House, { role }: Person, copyId: CopyId | null): Promise<boolean> =>
  role === 'teacher' && copyId !== null && ((await whose(house.db.manager, copyId))?.blind ?? false);

/** Which of the files of its hand-in a document is, counted from 0. */
const placeOf = async (house: House, documentId: DocumentId): Promise<number> =>
  (await find(house.db.manager, HandInDocumentTable, { documentId }))?.position ?? 0;
