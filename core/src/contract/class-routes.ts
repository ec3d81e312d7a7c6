import * as z from 'zod';
import { ClassId, PersonId } from '../ids/id.ts';
import { ActLine } from '../register/acts.ts';
import { isLogin, MOST_ROSTER } from '../register/login.ts';
import { ClassHead, Credentials, Erased, Register, RosterPlan } from './class-shapes.ts';
import { route } from './route.ts';

const params = z.object({ classId: ClassId });
const ofPerson = z.object({ classId: ClassId, personId: PersonId });
const About = z.object({ name: z.string().trim().min(1).max(60), unit: z.string().trim().max(200) });
const Name = z.string().trim().max(100);
const GivenName = Name.min(1).refine((n) => !/^[=+@]/.test(n), 'a name, not a formula');

/** People in one request: hashing a password takes its time on purpose, so the web sends them in bites and counts. */
export const BITE = 20;

/** Classes and who is in them. */
export const classRoutes = {
  classes: route('GET', '/api/classes', 'teacher', 'My classes', { reply: z.array(ClassHead) }),
  addClass: route('POST', '/api/classes', 'teacher', 'Make a class', {
    body: About,
    reply: z.object({ id: ClassId }),
  }),
  changeClass: route('PUT', '/api/classes/:classId', 'teacher', 'Rename a class', { params, body: About }),
  acts: route('GET', '/api/classes/:classId/acts', 'teacher', 'Who looked at or changed what in a class', {
    params,
    reply: z.array(ActLine),
  }),
  archiveClass: route(
    'PUT',
    '/api/classes/:classId/archived',
    'teacher',
    'Archive a class, or bring it back',
    {
      params,
      body: z.object({ archived: z.boolean() }),
    },
  ),
  register: route('GET', '/api/classes/:classId', 'teacher', 'Who is in the class', {
    params,
    reply: Register,
  }),
  planStudents: route(
    'POST',
    '/api/classes/:classId/plan',
    'teacher',
    'What a pasted or uploaded list of names would change; changes nothing',
    {
      params,
      body: z.object({ text: z.string().max(MOST_ROSTER + 1) }),
      limit: 6 * MOST_ROSTER,
      reply: RosterPlan,
    },
  ),
  addStudents: route('POST', '/api/classes/:classId/students', 'teacher', 'Take students into the class', {
    params,
    body: z.object({
      students: z
        .array(
          z.object({
            given: GivenName,
            family: Name,
            login: z.string().refine(isLogin, 'letters, digits, dots and dashes').nullable(),
          }),
        )
        .min(1)
        .max(BITE),
    }),
    reply: z.array(Credentials),
  }),
  eraseStudent: route(
    'DELETE',
    '/api/classes/:classId/students/:personId/data',
    'teacher',
    'Erase what there is of a student who has left',
    { params: ofPerson, reply: Erased },
  ),
  correctStudent: route(
    'PUT',
    '/api/classes/:classId/students/:personId',
    'teacher',
    'Correct a student’s name or login',
    {
      params: ofPerson,
      body: z.object({
        given: GivenName,
        family: Name,
        login: z.string().refine(isLogin, 'letters, digits, dots and dashes'),
      }),
    },
  ),
  removeStudent: route(
    'DELETE',
    '/api/classes/:classId/students/:personId',
    'teacher',
    'A student leaves; all work is kept',
    { params: ofPerson },
  ),
  returnStudent: route(
    'POST',
    '/api/classes/:classId/students/:personId/return',
    'teacher',
    'A student who left is back, with all work',
    { params: ofPerson },
  ),
  newPasswords: route('POST', '/api/classes/:classId/passwords', 'teacher', 'New first passwords', {
    params,
    body: z.object({ personIds: z.array(PersonId).min(1).max(BITE) }),
    reply: z.array(Credentials),
  }),
  addTeacher: route('POST', '/api/classes/:classId/teachers', 'teacher', 'Share the class with a colleague', {
    params,
    body: z.object({ login: z.string().trim().min(1).max(100) }),
  }),
  removeTeacher: route(
    'DELETE',
    '/api/classes/:classId/teachers/:personId',
    'teacher',
    'A colleague leaves the class',
    { params: ofPerson },
  ),
  changePassword: route('POST', '/api/password', 'person', 'A new password of one’s own', {
    body: z.object({
      /** Null: one has just signed in with a password from a sheet. */
      old: z.string().min(1).max(200).nullable(),
      next: z.string().min(10).max(200),
    }),
  }),
} as const;
