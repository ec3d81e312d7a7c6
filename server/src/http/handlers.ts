import { openApi } from '@jotmark/core';
import { documentPages, documentText, turnPages } from '../document/document.ts';
import { sendFile } from '../blobs/send.ts';
import { handBack } from '../hand-back/hand-back.ts';
import { ownHandBack } from '../hand-back/read.ts';
import { orderJob, PROGRESS_COLUMNS, progressOf, retryJob } from '../jobs/queue.ts';
import { openDesk } from '../desk/desk.ts';
import { changesSince, takeChanges, teachesHandIn } from '../marking/take-changes.ts';
import { maySeeDocument, teachesAssignment, teachesCopy } from '../people/access.ts';
import { demoPeople } from '../people/demo.ts';
import { signIn } from '../people/person.ts';
import { endSession, type SignedIn } from '../people/session.ts';
import { BLIND_COLUMN, blindFileName, setBlind } from '../people/blind.ts';
import { readPile } from '../pile/pile.ts';
import { setPileTerms } from '../pile/terms.ts';
import { readToday } from '../today/today.ts';
import { orderZip, ownZip } from '../tasks/zip-originals.ts';
import { classHandlers } from './class-handlers.ts';
import { deskHandlers } from './desk-handlers.ts';
import { Fault } from '../fault.ts';
import { type Handlers, OK, type Parts } from './handler.ts';
import { roomHandlers } from './room-handlers.ts';
import { settingHandlers } from './setting-handlers.ts';
import { workHandlers } from './work-handlers.ts';

export function makeHandlers(parts: Parts): Handlers {
  const { house, nudge } = parts;
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
      return readPile(house, person, params.assignmentId);
    },
    handBack: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return handBack(house, person, params.assignmentId, body.copyIds);
    },
    setBlind: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await setBlind(house, params.assignmentId, body.blind);
      return OK;
    },
    pileTerms: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await setPileTerms(house, params.assignmentId, body.copyIds, body);
      return OK;
    },
    zipOriginals: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      const jobId = await orderZip(house, person, params.assignmentId, body.copyIds);
      nudge();
      return { jobId, progress: (await ownZip(house, person, jobId)).progress };
    },
    zipProgress: async ({ person, params }) => ({
      jobId: params.jobId,
      progress: (await ownZip(house, person, params.jobId)).progress,
    }),
    zipFile: async ({ person, params, req, res }) => {
      const { sha256, name } = await ownZip(house, person, params.jobId);
      if (!sha256) throw new Fault('not-found');
      await sendFile(house, req, res, { sha256, type: 'application/zip', download: name });
      return undefined;
    },
    documentPicture: async ({ person, params, req, res }) => {
      await maySeeDocument(house, person, params.documentId);
      const [row] = await house.db.query('SELECT picture_sha256 AS sha256 FROM document WHERE id = ?', [
        params.documentId,
      ]);
      if (!row.sha256) throw new Fault('not-found');
      await sendFile(house, req, res, { sha256: row.sha256, type: 'image/jpeg', download: null });
      return undefined;
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
    leaveAt: async ({ person, params, body }) => {
      await teachesHandIn(house.db, person, params.handInId);
      const { affectedRows } = await house.db.query('UPDATE marking SET left_at = ? WHERE hand_in_id = ?', [
        body.page,
        params.handInId,
      ]);
      return { kept: affectedRows > 0 };
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
      if (!row.sha256) throw new Fault('not-found');
      await sendFile(house, req, res, { sha256: row.sha256, type: 'application/pdf', download: null });
      return undefined;
    },
    documentOriginal: async ({ person, params, req, res }) => {
      await maySeeDocument(house, person, params.documentId);
      const [row] = await house.db.query(
        `SELECT d.original_sha256 AS sha256, d.type, d.name, c.id AS copy_id, ${BLIND_COLUMN} FROM document d
           LEFT JOIN copy c ON c.id = d.copy_id LEFT JOIN assignment a ON a.id = c.assignment_id WHERE d.id = ?`,
        [params.documentId],
      );
      const name = person.role === 'teacher' && Number(row.is_blind) ? blindFileName(row.name, 0) : row.name;
      if (!row.sha256) throw new Fault('not-found');
      // Asked for by an element of a page it is shown there; followed as a link it is saved.
      const shown = req.get('sec-fetch-dest') === 'document' || req.query.save !== undefined ? name : null;
      await sendFile(house, req, res, { sha256: row.sha256, type: row.type, download: shown });
      return undefined;
    },

    ...workHandlers(parts),
    ...classHandlers(parts),
    ...settingHandlers(parts),
    ...roomHandlers(parts),
    ...deskHandlers(parts),

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
      await sendFile(house, req, res, { sha256: row.sha256, type: 'application/pdf', download: row.name });
      return undefined;
    },
  };
}
