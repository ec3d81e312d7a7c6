import { MOST_FILES, type settingRoutes } from '@jotmark/core';
import {
  assignmentsOf,
  inClass,
  putAway,
  readAssignment,
  saveAssignment,
  setFamilyAddress,
  setTerms,
} from '../assignment/edit.ts';
import { familyFile, familyPage } from '../assignment/family.ts';
import { addMaterial, addWorksheet, orderMaterials, removeMaterial } from '../assignment/materials.ts';
import { setAgain, setDraft, startDraft } from '../assignment/set.ts';
import { documentShapes, documentState, keepDocument, keepLink } from '../document/document.ts';
import { judgeAny } from '../opening/judge.ts';
import { receiveFile, receiveFiles } from './receive.ts';
import { sendFile } from '../blobs/send.ts';
import { maySeeDocument, maySeeWorksheet, teachesAssignment, teachesClass } from '../people/access.ts';
import {
  makeWorksheet,
  readWorksheet,
  renameWorksheet,
  saveQuestions,
  worksheetsOf,
} from '../worksheet/worksheet.ts';
import { Fault } from '../fault.ts';
import { type HandlersOf, OK, type Parts } from './handler.ts';

/** Setting work: assignments, materials, worksheets, and the page for families. */
export function settingHandlers({ house, opener, nudge }: Parts): HandlersOf<typeof settingRoutes> {
  return {
    assignments: async ({ person, params }) => {
      await teachesClass(house, person, params.classId);
      return assignmentsOf(house, params.classId);
    },
    startAssignment: async ({ person, params }) => {
      await teachesClass(house, person, params.classId);
      return readAssignment(house, await startDraft(house, params.classId));
    },
    assignment: async ({ person, params }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return readAssignment(house, params.assignmentId);
    },
    saveAssignment: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await inClass(house, params.assignmentId, body.audience.students ?? []);
      await saveAssignment(house, params.assignmentId, body);
      return readAssignment(house, params.assignmentId);
    },
    setAssignment: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return setDraft(house, person, params.assignmentId, body.opensAt);
    },
    addMaterialFile: async ({ person, params, req, res }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await receiveFile(req, res, async (file) => {
        const judged = await judgeAny(opener, file.path, file.name);
        const documentId = await keepDocument(house, { ownerId: person.id }, file.name, [
          { ...file, judged },
        ]);
        await addMaterial(house, params.assignmentId, 'file', file.name, { documentId });
      });
      nudge();
      return readAssignment(house, params.assignmentId);
    },
    addMaterialLink: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      const documentId = await keepLink(house, { ownerId: person.id }, body.url, body.name);
      const { name } = await documentState(house, documentId);
      await addMaterial(house, params.assignmentId, 'link', name, { documentId });
      return readAssignment(house, params.assignmentId);
    },
    addMaterialWorksheet: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await maySeeWorksheet(house, person, body.worksheetId);
      await addWorksheet(house, params.assignmentId, body.worksheetId);
      return readAssignment(house, params.assignmentId);
    },
    removeMaterial: async ({ person, params }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await removeMaterial(house, params.assignmentId, params.materialId);
      return readAssignment(house, params.assignmentId);
    },
    orderMaterials: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await orderMaterials(house, params.assignmentId, body.order);
      return readAssignment(house, params.assignmentId);
    },
    addPicture: async ({ person, params, req, res }) => {
      await teachesAssignment(house, person, params.assignmentId);
      return receiveFile(req, res, async (file) => {
        const judged = await judgeAny(opener, file.path, file.name);
        if (!judged.type.startsWith('image/') || judged.shows !== 'pages')
          throw new Fault('file-not-pages', { name: file.name });
        const documentId = await keepDocument(house, { ownerId: person.id }, file.name, [
          { ...file, judged },
        ]);
        await addMaterial(house, params.assignmentId, 'picture', file.name, { documentId });
        return documentState(house, documentId);
      });
    },
    setAgain: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await teachesClass(house, person, body.classId);
      return { id: await setAgain(house, params.assignmentId, body.classId) };
    },
    putAway: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await putAway(house, params.assignmentId, body.away);
      return OK;
    },
    studentTerms: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await setTerms(house, params.assignmentId, params.personId, body);
      return readAssignment(house, params.assignmentId);
    },
    familyAddress: async ({ person, params, body }) => {
      await teachesAssignment(house, person, params.assignmentId);
      await setFamilyAddress(house, params.assignmentId, body.open);
      return readAssignment(house, params.assignmentId);
    },

    worksheets: async ({ person }) => worksheetsOf(house, person),
    makeWorksheet: async ({ person, req, res }) => {
      const id = await receiveFiles(req, res, MOST_FILES, (files) =>
        makeWorksheet(house, opener, person, files),
      );
      nudge();
      return { id };
    },
    worksheet: async ({ person, params }) => {
      await maySeeWorksheet(house, person, params.worksheetId);
      return readWorksheet(house, params.worksheetId);
    },
    renameWorksheet: async ({ person, params, body }) => {
      await maySeeWorksheet(house, person, params.worksheetId);
      await renameWorksheet(house, params.worksheetId, body.name);
      return OK;
    },
    saveQuestions: async ({ person, params, body }) => {
      await maySeeWorksheet(house, person, params.worksheetId);
      return saveQuestions(house, params.worksheetId, body);
    },
    documentShapes: async ({ person, params }) => {
      await maySeeDocument(house, person, params.documentId);
      return documentShapes(house, params.documentId);
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
