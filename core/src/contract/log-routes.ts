import * as z from 'zod';
import { ClassId, PersonId, RemarkAnswerId, RemarkId } from '../ids/id.ts';
import { ClassLook } from '../log/class-look.ts';
import { FeedbackLog, MOST_REMARKED, REMARK_QUOTE, REMARK_WORDS, RemarkWork, Strand } from '../log/entry.ts';
import { REPORT_WORDS, Report, TermName } from '../log/report.ts';
import { listOf } from '../versions/list.ts';
import { route } from './route.ts';
import { Moment } from './shapes.ts';

const ofClass = z.object({ classId: ClassId });
const ofStudent = z.object({ classId: ClassId, personId: PersonId });
const ofRemark = z.object({ remarkId: RemarkId });

const RemarkBody = z.object({
  words: z.string().trim().min(1).max(REMARK_WORDS),
  /** The day it is about. */
  at: Moment,
  work: RemarkWork,
  strand: Strand,
});

/** When each student of a class last heard anything: work that went back, or a remark. */
export const LastWords = z.object({
  className: z.string(),
  students: z.array(
    z.object({
      id: PersonId,
      given: z.string(),
      family: z.string(),
      /** Null: never. */
      lastAt: Moment.nullable(),
      /** The same by the one who asks. */
      lastByMe: Moment.nullable(),
      /** Answers to remarks of the one who asks that wait to be read. */
      answered: z.int(),
    }),
  ),
});
export type LastWords = z.infer<typeof LastWords>;

export const OwnLogs = z.array(FeedbackLog);

/** What students are told over all their work, and what is said without any. */
export const logRoutes = {
  feedbackLog: route('GET', '/api/classes/:classId/logs/:personId', 'teacher', 'All a student was told', {
    params: ofStudent,
    reply: FeedbackLog,
  }),
  lastWords: route('GET', '/api/classes/:classId/logs', 'teacher', 'When each student last heard something', {
    params: ofClass,
    reply: LastWords,
  }),
  classLook: route(
    'GET',
    '/api/classes/:classId/look',
    'teacher',
    'What was said to a class, over its work',
    {
      params: ofClass,
      reply: ClassLook,
    },
  ),
  addRemark: route('POST', '/api/classes/:classId/remarks', 'teacher', 'A remark to one or many students', {
    params: ofClass,
    body: RemarkBody.extend({ id: RemarkId, to: listOf(PersonId, MOST_REMARKED, 1) }),
    limit: 64 * 1024,
  }),
  changeRemark: route('PUT', '/api/remarks/:remarkId', 'teacher', 'Other words of a remark', {
    params: ofRemark,
    body: RemarkBody,
    limit: 64 * 1024,
  }),
  removeRemark: route('DELETE', '/api/remarks/:remarkId', 'teacher', 'A remark is withdrawn', {
    params: ofRemark,
  }),
  answerRemark: route('POST', '/api/remarks/:remarkId/answers', 'person', 'An answer to a remark', {
    params: ofRemark,
    body: z.object({
      id: RemarkAnswerId,
      words: z.string().trim().min(1).max(REMARK_WORDS),
      quote: z.string().max(REMARK_QUOTE),
      /** Whose log it stands in: of a student their own. */
      personId: PersonId,
    }),
    limit: 64 * 1024,
  }),
  ownLogs: route('GET', '/api/log', 'student', 'All I was told', { reply: OwnLogs }),
  reports: route('GET', '/api/classes/:classId/reports/:personId', 'teacher', 'Reports about a student', {
    params: ofStudent,
    reply: z.array(Report),
  }),
  saveReport: route('PUT', '/api/classes/:classId/reports/:personId', 'teacher', 'A report is written', {
    params: ofStudent,
    body: z.object({
      term: TermName,
      words: z.string().max(REPORT_WORDS),
      /** What it is changed from. */
      base: z.int().min(0),
    }),
    limit: 256 * 1024,
    reply: Report,
  }),
} as const;
