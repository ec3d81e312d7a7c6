import * as z from 'zod';
import {
  AssignmentId,
  ClassId,
  DocumentId,
  MaterialId,
  PersonId,
  VersionId,
  WorksheetId,
} from '../ids/id.ts';
import { Questions } from '../questions/question.ts';
import { PageShapes } from '../questions/shapes.ts';
import { WebAddress } from '../rich/rich-text.ts';
import { Bytes, route } from './route.ts';
import {
  AssignmentLine,
  AssignmentSheet,
  AssignmentWords,
  Audience,
  FamilyPage,
  TrialShape,
  WorksheetLine,
  WorksheetShape,
} from './setting-shapes.ts';
import { Moment, Ordered } from './shapes.ts';

const params = z.object({ assignmentId: AssignmentId });
const ofClass = z.object({ classId: ClassId });
const ofWorksheet = z.object({ worksheetId: WorksheetId });
const token = z.string().regex(/^[A-Za-z0-9_-]{32,64}$/);

/** Setting work: assignments, their materials, worksheets, and the page for families. */
export const settingRoutes = {
  assignments: route('GET', '/api/classes/:classId/assignments', 'teacher', 'All work set for a class', {
    params: ofClass,
    reply: z.array(AssignmentLine),
  }),
  startAssignment: route('POST', '/api/classes/:classId/assignments', 'teacher', 'Begin a draft', {
    params: ofClass,
    reply: AssignmentSheet,
  }),
  assignment: route('GET', '/api/assignments/:assignmentId', 'teacher', 'An assignment, to be edited', {
    params,
    reply: AssignmentSheet,
  }),
  saveAssignment: route('PUT', '/api/assignments/:assignmentId', 'teacher', 'Keep what was edited', {
    params,
    body: z.object({
      revision: z.int(),
      /** A page that was open before the rule of taking back came says nothing of it: then it stays. */
      words: AssignmentWords.partial({ takeBack: true }),
      audience: Audience,
      /** Words that tell the students what changed; null: they are not told. */
      news: z.string().trim().max(1000).nullable(),
    }),
    limit: 512 * 1024,
    reply: AssignmentSheet,
  }),
  closeTakingBack: route(
    'POST',
    '/api/assignments/:assignmentId/close-taking-back',
    'teacher',
    'From now on nobody takes a hand-in back',
    { params },
  ),
  setAssignment: route(
    'POST',
    '/api/assignments/:assignmentId/set',
    'teacher',
    'Set it: every student gets a copy, now or to open at a set time',
    {
      params,
      body: z.object({ opensAt: Moment.nullable() }),
      reply: z.object({ assignmentIds: z.array(AssignmentId), copies: z.int() }),
    },
  ),
  addMaterialFile: route('POST', '/api/assignments/:assignmentId/files', 'teacher', 'Add a file to look at', {
    params,
    reply: Ordered,
    takes: 'file',
  }),
  addMaterialLink: route('POST', '/api/assignments/:assignmentId/links', 'teacher', 'Add a link to look at', {
    params,
    body: z.object({ url: WebAddress, name: z.string().trim().max(200) }),
    reply: AssignmentSheet,
  }),
  addMaterialWorksheet: route(
    'POST',
    '/api/assignments/:assignmentId/worksheets',
    'teacher',
    'Add a worksheet of which each student gets a copy, or take its newest version',
    { params, body: z.object({ worksheetId: WorksheetId }), reply: AssignmentSheet },
  ),
  addWritingPages: route(
    'POST',
    '/api/assignments/:assignmentId/writing-pages',
    'teacher',
    'Add lined pages on which each student writes a text that grows',
    {
      params,
      body: z.object({ words: z.int().min(1).max(100_000).nullable() }),
      reply: AssignmentSheet,
    },
  ),
  removeMaterial: route(
    'DELETE',
    '/api/assignments/:assignmentId/materials/:materialId',
    'teacher',
    'Take a material away; copies that are out keep their worksheet',
    { params: z.object({ assignmentId: AssignmentId, materialId: MaterialId }), reply: AssignmentSheet },
  ),
  orderMaterials: route(
    'PUT',
    '/api/assignments/:assignmentId/materials',
    'teacher',
    'Order of the materials',
    {
      params,
      body: z.object({ order: z.array(MaterialId).max(100) }),
      reply: AssignmentSheet,
    },
  ),
  addPicture: route(
    'POST',
    '/api/assignments/:assignmentId/pictures',
    'teacher',
    'A picture for the instructions',
    {
      params,
      reply: Ordered,
      takes: 'file',
    },
  ),
  setAgain: route(
    'POST',
    '/api/assignments/:assignmentId/again',
    'teacher',
    'A draft of the same for a class',
    {
      params,
      body: z.object({ classId: ClassId }),
      reply: z.object({ id: AssignmentId }),
    },
  ),
  startTrial: route(
    'POST',
    '/api/assignments/:assignmentId/trial',
    'teacher',
    'A trial run: a copy of one’s own to fill in, hand in, mark and get back, which counts nowhere',
    { params, reply: TrialShape },
  ),
  endTrial: route('DELETE', '/api/assignments/:assignmentId/trial', 'teacher', 'End it: all of it goes', {
    params,
  }),
  putAway: route('POST', '/api/assignments/:assignmentId/put-away', 'teacher', 'Put away, or bring back', {
    params,
    body: z.object({ away: z.boolean() }),
  }),
  studentTerms: route(
    'PUT',
    '/api/assignments/:assignmentId/students/:personId',
    'teacher',
    'Excuse one student, or give another date',
    {
      params: z.object({ assignmentId: AssignmentId, personId: PersonId }),
      body: z.object({ excused: z.boolean(), dueAt: Moment.nullable() }),
      reply: AssignmentSheet,
    },
  ),
  familyAddress: route(
    'POST',
    '/api/assignments/:assignmentId/family',
    'teacher',
    'Make an address for families, or revoke it',
    { params, body: z.object({ open: z.boolean() }), reply: AssignmentSheet },
  ),

  worksheets: route('GET', '/api/worksheets', 'teacher', 'My worksheets', { reply: z.array(WorksheetLine) }),
  makeWorksheet: route('POST', '/api/worksheets', 'teacher', 'Make a worksheet from a file or several', {
    reply: Ordered,
    takes: 'file',
  }),
  worksheet: route('GET', '/api/worksheets/:worksheetId', 'teacher', 'A worksheet and its questions', {
    params: ofWorksheet,
    reply: WorksheetShape,
  }),
  renameWorksheet: route('PUT', '/api/worksheets/:worksheetId', 'teacher', 'Another name', {
    params: ofWorksheet,
    body: z.object({ name: z.string().trim().min(1).max(200) }),
  }),
  saveQuestions: route(
    'PUT',
    '/api/worksheets/:worksheetId/questions',
    'teacher',
    'Keep the questions; where copies are out, as a new version',
    {
      params: ofWorksheet,
      body: z.object({ versionId: VersionId, revision: z.int(), questions: Questions }),
      limit: 512 * 1024,
      reply: z.object({ versionId: VersionId, number: z.int(), revision: z.int() }),
    },
  ),
  documentShapes: route(
    'GET',
    '/api/documents/:documentId/shapes',
    'teacher',
    'Rules, boxes and form fields on the pages of a worksheet',
    { params: z.object({ documentId: DocumentId }), reply: z.array(PageShapes) },
  ),

  family: route('GET', '/api/family/:token', 'anyone', 'Instructions for families', {
    params: z.object({ token }),
    reply: FamilyPage,
  }),
  familyFile: route(
    'GET',
    '/api/family/:token/files/:documentId',
    'anyone',
    'A file or picture of that page',
    {
      params: z.object({ token, documentId: DocumentId }),
      reply: Bytes,
      sends: 'bytes',
    },
  ),
} as const;
