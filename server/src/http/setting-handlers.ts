import {
  type AssignmentId,
  type AssignmentSheet,
  MOST_FILES,
  type Person,
  type settingRoutes,
} from '@jotmark/core';
import {
  assignmentsOf,
  closeTakingBack,
  inClass,
  putAway,
  readAssignment,
  saveAssignment,
  setFamilyAddress,
  setTerms,
} from '../assignment/edit.ts';
import { familyFile, familyPage } from '../assignment/family.ts';
import { addLinkMaterial, addWorksheet, orderMaterials, removeMaterial } from '../assignment/materials.ts';
import { setAgain, setDraft, startDraft } from '../assignment/set.ts';
import { endTrial, startTrial } from '../assignment/trial.ts';
import { sendFile, sendKeptJson } from '../blobs/send.ts';
import { shapesKept } from '../document/pages.ts';
import { recomputeAll } from '../marking/scored.ts';
import { tellByTheClock } from '../news/due.ts';
import { mustSeeWorksheet, mustTeachClass } from '../people/access.ts';
import { orderArrival } from '../tasks/arrive.ts';
import { readWorksheet, renameWorksheet, saveQuestions, worksheetsOf } from '../worksheet/worksheet.ts';
import { makeWritingPages } from '../worksheet/writing-pages.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';
import { orderedBy } from './ordered.ts';
import { receiveFile, receiveFiles } from './receive.ts';

/** Setting work: assignments, materials, worksheets, and the page for families. */
export function settingHandlers(parts: Parts): HandlersOf<typeof settingRoutes> {
  const { house } = parts;
  /** Does something to an assignment and gives it as it is then. */
  const then = async (
    person: Pick<Person, 'id'>,
    id: AssignmentId,
    work: Promise<unknown>,
  ): Promise<AssignmentSheet> => {
    await work;
    return readAssignment(house, person, id);
  };
  return {
    assignments: ({ params }) => assignmentsOf(house, params.classId),
    startAssignment: async ({ person, params }) =>
      readAssignment(house, person, await startDraft(house, params.classId)),
    assignment: ({ person, params }) => readAssignment(house, person, params.assignmentId),
    startTrial: ({ person, params }) => startTrial(house, person, params.assignmentId),
    endTrial: ({ person, params }) => done(endTrial(house, person, params.assignmentId)),
    closeTakingBack: ({ params }) => done(closeTakingBack(house, params.assignmentId)),
    saveAssignment: async ({ person, params, body }) => {
      await inClass(house, params.assignmentId, body.audience.students ?? []);
      return then(
        person,
        params.assignmentId,
        saveAssignment(house, params.assignmentId, body, (tx) => recomputeAll(tx, params.assignmentId)),
      );
    },
    setAssignment: async ({ person, params, body }) => {
      const set = await setDraft(house, person, params.assignmentId, body.opensAt);
      // Whoever has Jotmark open need not wait for the clock to come round.
      await tellByTheClock(house);
      return set;
    },
    addMaterialFile: ({ person, params, req, res }) => {
      const to = {
        at: 'assignment',
        assignmentId: params.assignmentId,
        kind: 'file',
        ownerId: person.id,
      } as const;
      return orderedBy(
        parts,
        receiveFile(req, res, (file) => orderArrival(house, person, to, [file])),
      );
    },
    addMaterialLink: ({ person, params, body }) =>
      then(
        person,
        params.assignmentId,
        addLinkMaterial(house, person.id, params.assignmentId, body.url, body.name),
      ),
    addMaterialWorksheet: async ({ person, params, body }) => {
      await mustSeeWorksheet(house, person, body.worksheetId);
      return then(person, params.assignmentId, addWorksheet(house, params.assignmentId, body.worksheetId));
    },
    addWritingPages: async ({ person, params, body }) => {
      const made = await makeWritingPages(house, person.id, params.assignmentId, body.words);
      parts.nudge();
      return then(person, params.assignmentId, addWorksheet(house, params.assignmentId, made));
    },
    removeMaterial: ({ person, params }) =>
      then(person, params.assignmentId, removeMaterial(house, params.assignmentId, params.materialId)),
    orderMaterials: ({ person, params, body }) =>
      then(person, params.assignmentId, orderMaterials(house, params.assignmentId, body.order)),
    addPicture: ({ person, params, req, res }) => {
      const to = {
        at: 'assignment',
        assignmentId: params.assignmentId,
        kind: 'picture',
        ownerId: person.id,
      } as const;
      return orderedBy(
        parts,
        receiveFile(req, res, (file) => orderArrival(house, person, to, [file])),
      );
    },
    setAgain: async ({ person, params, body }) => {
      await mustTeachClass(house, person, body.classId);
      return { id: await setAgain(house, params.assignmentId, body.classId) };
    },
    putAway: ({ params, body }) => done(putAway(house, params.assignmentId, body.away)),
    studentTerms: ({ person, params, body }) =>
      then(
        person,
        params.assignmentId,
        setTerms(house, params.assignmentId, params.personId, body, (tx) =>
          recomputeAll(tx, params.assignmentId),
        ),
      ),
    familyAddress: ({ person, params, body }) =>
      then(person, params.assignmentId, setFamilyAddress(house, params.assignmentId, body.open)),

    worksheets: ({ person }) => worksheetsOf(house, person),
    makeWorksheet: ({ person, req, res }) =>
      orderedBy(
        parts,
        receiveFiles(req, res, MOST_FILES, (files) =>
          orderArrival(house, person, { at: 'worksheet', ownerId: person.id }, files),
        ),
      ),
    worksheet: ({ person, params }) => readWorksheet(house, person, params.worksheetId),
    renameWorksheet: ({ params, body }) => done(renameWorksheet(house, params.worksheetId, body.name)),
    saveQuestions: ({ params, body }) => saveQuestions(house, params.worksheetId, body),
    documentShapes: async ({ params, res }) => {
      await sendKeptJson(house, res, await shapesKept(house.db.manager, params.documentId));
      return undefined;
    },

    family: async ({ params, res }) => {
      res.set('X-Robots-Tag', 'noindex, nofollow');
      return familyPage(house, params.token);
    },
    familyFile: async ({ params, req, res }) => {
      res.set('X-Robots-Tag', 'noindex, nofollow');
      const file = await familyFile(house, params.token, params.documentId);
      await sendFile(house, req, res, {
        sha256: file.sha256,
        type: file.type,
        download: req.get('sec-fetch-dest') === 'document' ? file.name : null,
      });
      return undefined;
    },
  };
}
