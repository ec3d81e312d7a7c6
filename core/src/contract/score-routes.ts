import * as z from 'zod';
import { AnswerKey } from '../alike/key.ts';
import { Evening } from '../evening/shift.ts';
import {
  AssignmentId,
  CopyId,
  EveningId,
  QuestionId,
  RubricId,
  RubricVersionId,
  WorksheetId,
} from '../ids/id.ts';
import { Rubric } from '../rubric/rubric.ts';
import { listOf } from '../versions/list.ts';
import { BatchAnswer, ChangeBatch, ChangesSince } from './batch.ts';
import { CHANGES_LIMIT } from './marking-routes.ts';
import { Bytes, route } from './route.ts';
import {
  Across,
  GradeChange,
  GridShape,
  PileScores,
  RubricLine,
  RubricName,
  RubricShape,
  ScoreSheet,
  ScoringEdit,
  ScoringShape,
} from './score-shapes.ts';

const ofRubric = z.object({ rubricId: RubricId });
const ofAssignment = z.object({ assignmentId: AssignmentId });
const ofCopy = z.object({ copyId: CopyId });
const RUBRIC_LIMIT = 1024 * 1024;

/** Scores: rubrics, how work is scored, what a pile was given, and evening it out. */
export const scoreRoutes = {
  rubrics: route('GET', '/api/rubrics', 'teacher', 'One’s own rubrics', { reply: z.array(RubricLine) }),
  makeRubric: route('POST', '/api/rubrics', 'teacher', 'Make a rubric', {
    body: z.object({ name: RubricName, rubric: Rubric }),
    limit: RUBRIC_LIMIT,
    reply: RubricShape,
  }),
  rubric: route('GET', '/api/rubrics/:rubricId', 'teacher', 'A rubric, to be looked at and changed', {
    params: ofRubric,
    reply: RubricShape,
  }),
  saveRubric: route('PUT', '/api/rubrics/:rubricId', 'teacher', 'Keep what was changed', {
    params: ofRubric,
    body: z.object({ name: RubricName, versionId: RubricVersionId, rubric: Rubric }),
    limit: RUBRIC_LIMIT,
    reply: RubricShape,
  }),
  archiveRubric: route(
    'POST',
    '/api/rubrics/:rubricId/archive',
    'teacher',
    'Archive a rubric, or take it out again',
    {
      params: ofRubric,
      body: z.object({ away: z.boolean() }),
    },
  ),
  rubricFile: route('GET', '/api/rubrics/:rubricId/file', 'teacher', 'A rubric as a spreadsheet', {
    params: ofRubric,
    query: z.object({ as: z.enum(['csv', 'xlsx', 'ods']) }),
    reply: Bytes,
    sends: 'bytes',
  }),
  readTable: route('POST', '/api/tables', 'teacher', 'Read the tables of a spreadsheet or a document', {
    reply: z.object({ tables: z.array(GridShape) }),
    takes: 'file',
  }),

  scoring: route('GET', '/api/assignments/:assignmentId/scoring', 'teacher', 'How an assignment is scored', {
    params: ofAssignment,
    reply: ScoringShape,
  }),
  tryScoring: route(
    'POST',
    '/api/assignments/:assignmentId/scoring/effect',
    'teacher',
    'Which grades another way of scoring would change; nothing is kept',
    {
      params: ofAssignment,
      body: ScoringEdit,
      limit: RUBRIC_LIMIT,
      reply: z.object({ changes: z.array(GradeChange) }),
    },
  ),
  saveScoring: route(
    'PUT',
    '/api/assignments/:assignmentId/scoring',
    'teacher',
    'Keep how an assignment is scored; its grades are computed anew',
    {
      params: ofAssignment,
      body: ScoringEdit,
      limit: RUBRIC_LIMIT,
      reply: z.object({ scoring: ScoringShape, changes: z.array(GradeChange) }),
    },
  ),
  saveKey: route(
    'PUT',
    '/api/worksheets/:worksheetId/keys/:questionId',
    'teacher',
    'What an answer should be',
    {
      params: z.object({ worksheetId: WorksheetId, questionId: QuestionId }),
      body: z.object({ key: AnswerKey.nullable() }),
    },
  ),

  pileScores: route('GET', '/api/piles/:assignmentId/scores', 'teacher', 'A pile as a table of scores', {
    params: ofAssignment,
    reply: PileScores,
  }),
  across: route(
    'GET',
    '/api/piles/:assignmentId/across/:questionId',
    'teacher',
    'One question of all copies',
    {
      params: z.object({ assignmentId: AssignmentId, questionId: QuestionId }),
      reply: Across,
    },
  ),
  evenOut: route(
    'POST',
    '/api/piles/:assignmentId/even-out',
    'teacher',
    'Shift or stretch the grades of a pile',
    {
      params: ofAssignment,
      body: z.object({
        evening: Evening,
        copyIds: listOf(CopyId, 1000, 1),
        reason: z.string().trim().min(1).max(1000),
      }),
      limit: 64 * 1024,
      reply: z.object({ changed: z.int(), kept: z.int() }),
    },
  ),
  undoEvening: route(
    'POST',
    '/api/piles/:assignmentId/even-out/:eveningId/undo',
    'teacher',
    'Undo it where its grades still stand',
    {
      params: z.object({ assignmentId: AssignmentId, eveningId: EveningId }),
      reply: z.object({ changed: z.int(), kept: z.int() }),
    },
  ),
  releaseMidway: route(
    'POST',
    '/api/piles/:assignmentId/midway',
    'teacher',
    'Release the midway round of some copies, without a grade',
    {
      params: ofAssignment,
      body: z.object({ copyIds: listOf(CopyId, 1000, 1) }),
      limit: 64 * 1024,
      reply: z.object({ released: z.array(CopyId), kept: z.array(CopyId) }),
    },
  ),

  scoreSheet: route(
    'GET',
    '/api/copies/:copyId/score',
    'teacher',
    'One copy, to be scored without its pages',
    {
      params: ofCopy,
      reply: ScoreSheet,
    },
  ),
  sendCopyMarking: route(
    'POST',
    '/api/copies/:copyId/marking',
    'teacher',
    'Changes to the marking of a copy to which nothing came in; each counts once',
    { params: ofCopy, body: ChangeBatch, limit: CHANGES_LIMIT, reply: BatchAnswer },
  ),
  copyMarkingSince: route('GET', '/api/copies/:copyId/marking', 'teacher', 'Its changes after sequence n', {
    params: ofCopy,
    query: z.object({ after: z.coerce.number().int().min(0) }),
    reply: ChangesSince,
  }),
} as const;
